// Interviews left at the office, to go on with on another phone of the same person.
import { Problem } from '../../shared/api/client';
import { theEngine } from '../../shared/engine/client';
import { deviceToken } from './access';
import { db, type Interview } from './db';
import { hashOf } from '../../shared/hash';
import { addInterview, readInterview } from './kept';
import { fetchRelease } from './releases';
import * as server from './server';
import { handInFiles } from './sync';
import { wordsHere } from '../texts/texts';

/** Leave an interview in hand at the office; it leaves this phone once the office has confirmed all of it. */
export async function leaveAtOffice(uuid: string): Promise<void> {
  const token = await tokenHere();
  const interview = await readInterview(uuid);
  if (interview?.state !== 'in hand') throw new Error('This interview is not in hand any more.');
  const content = JSON.stringify(interview);
  await handInFiles(token, uuid, content);
  const label = interview.label === '' ? interview.title : interview.label;
  const hash = await server.leaveInterview(token, uuid, label.slice(0, 200), content);
  if (hash !== (await hashOf(content))) throw new Problem('wrong_receipt', wordsHere()('otherBytes'), 0);
  await theEngine()
    .call('close', uuid)
    .catch(() => undefined);
  await db.transaction('rw', db.interviews, db.attachments, async () => {
    await db.attachments.where('interview').equals(uuid).delete();
    await db.interviews.delete(uuid);
  });
}

/** Take up what was left at the office; it is this phone's from now on. */
export async function takeUp(uuid: string): Promise<void> {
  const token = await tokenHere();
  if ((await db.interviews.get(uuid)) === undefined) {
    const interview = JSON.parse(await server.takeLeft(token, uuid)) as Interview;
    if ((await db.releases.get(interview.release)) === undefined)
      await fetchRelease(token, interview.releaseIdentity ?? interview.release);
    await addInterview({ ...interview, problem: undefined });
  }
  await db.device
    .where('id')
    .equals('me')
    .modify((device) => {
      device.left = device.left?.filter((other) => other.uuid !== uuid);
    });
}

async function tokenHere(): Promise<string> {
  const device = await db.device.get('me');
  const token = device === undefined ? null : await deviceToken(device);
  if (token === null) throw new Error('This phone is locked.');
  return token;
}
