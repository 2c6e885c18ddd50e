// Sending what is packed and fetching what is new. An interview leaves the phone only after the office has confirmed
// it byte for byte; whatever goes wrong on the way leaves it where it is.
import { Problem } from '../../shared/api/client';
import { db, type FileRow, type InterviewRow } from './db';
import * as server from './server';

export interface SyncOutcome {
  reached: boolean;
  handedIn: number;
  problem: string;
}

let running: Promise<SyncOutcome> | null = null;

/** Bring phone and office together; calls while one is under way share it. */
export function sync(): Promise<SyncOutcome> {
  running ??= synchronise().finally(() => {
    running = null;
  });
  return running;
}

async function synchronise(): Promise<SyncOutcome> {
  const device = await db.device.get('me');
  if (!device) return { reached: false, handedIn: 0, problem: '' };
  let handedIn = 0;
  try {
    for (const interview of await db.interviews.where('state').equals('packed').sortBy('changedAt')) {
      if (await handInOne(device.token, interview)) handedIn += 1;
    }
    await refresh(device.token);
    return { reached: true, handedIn, problem: '' };
  } catch (error) {
    const problem = error instanceof Problem ? error.message : 'Sending failed. Nothing is lost; it is tried again.';
    return { reached: !server.isUnreachable(error), handedIn, problem: server.isUnreachable(error) ? '' : problem };
  }
}

async function handInOne(token: string, interview: InterviewRow): Promise<boolean> {
  if (interview.raw === undefined || interview.hash === undefined) return false;
  try {
    // Files first: an interview at the office never refers to what is not there.
    for (const file of await db.files.where('interview').equals(interview.uuid).toArray()) await handInFile(token, interview.raw, file);
    const receipt = await server.handIn(token, interview.uuid, interview.raw);
    if (receipt.hash !== interview.hash) throw new Problem('wrong_receipt', 'The office holds other bytes than these.', 0);
    await db.interviews.update(interview.uuid, {
      state: 'handed in',
      number: receipt.number,
      changedAt: new Date().toISOString(),
      answers: {},
      kept: {},
      events: [],
      raw: undefined,
      problem: undefined,
    });
    return true;
  } catch (error) {
    if (server.isUnreachable(error) || (error instanceof Problem && error.status === 401)) throw error;
    await db.interviews.update(interview.uuid, { problem: error instanceof Error ? error.message : String(error) });
    return false;
  }
}

/** A file that no answer refers to any more, taken again or removed, stays on the phone no longer. */
async function handInFile(token: string, raw: string, file: FileRow): Promise<void> {
  if (raw.includes(file.hash)) await server.handInFile(token, file.hash, file.content);
  await db.files.delete(file.hash);
}

async function refresh(token: string): Promise<void> {
  const [inHand, packed] = await Promise.all([
    db.interviews.where('state').equals('in hand').count(),
    db.interviews.where('state').equals('packed').count(),
  ]);
  const profile = await server.profile(token, { in_hand: inHand, packed });
  await db.device.update('me', { heardAt: new Date().toISOString(), study: profile.study });
  for (const line of profile.releases) {
    if ((await db.releases.get(line.hash)) === undefined) {
      const file = await server.fetchRelease(token, line.hash);
      await db.releases.put({
        hash: line.hash,
        number: file.number,
        questionnaireId: file.questionnaire_id,
        title: file.compiled.title,
        languages: file.compiled.languages,
        compiled: JSON.stringify(file.compiled),
        newest: 1,
      });
    }
  }
  await forgetOldReleases(profile.releases.map((line) => line.hash));
}

/** Older releases stay only while an interview in hand was begun with them. */
async function forgetOldReleases(newest: string[]): Promise<void> {
  const used = new Set((await db.interviews.where('state').equals('in hand').toArray()).map((i) => i.release));
  for (const release of await db.releases.toArray()) {
    if (newest.includes(release.hash)) await db.releases.update(release.hash, { newest: 1 });
    else if (used.has(release.hash)) await db.releases.update(release.hash, { newest: 0 });
    else await db.releases.delete(release.hash);
  }
}
