// Sealing what is not under the newest key: what an earlier build of this page kept in the open, and what was kept before
// there was a PIN. One thing after the other, so that it goes on where it broke off.
import { db, type AttachmentRow, type Interview, type InterviewRow } from './db';
import { sealInterview } from './kept';
import { dropFormer, generations, sealFile, sealJson, unsealFile, unsealJson } from './vault';

/** What version 5 of the database held. */
type FormerInterview = Interview;
type FormerAttachment = Pick<AttachmentRow, 'interview' | 'hash' | 'kind' | 'confirmed'> & { content: Blob };

const isSealed = (row: InterviewRow | FormerInterview): row is InterviewRow => 'content' in row;
const generationOf = (sealed: Uint8Array): number => sealed[0] ?? 0;

/** Bring everything under the newest key; harmless where it is there already. The vault is open. */
export async function resealAll(): Promise<void> {
  const { newest, hasFormer, isWhole } = await generations();
  if (isWhole) return;
  await resealToken(newest);
  for (const uuid of await db.interviews.toCollection().primaryKeys()) await resealInterview(uuid, newest);
  for (const key of await db.attachments.toCollection().primaryKeys()) await resealFile(key, newest);
  for (const row of await db.visits.toArray())
    if (generationOf(row.sealed) < newest)
      await db.visits.update(row.visit, { sealed: await sealJson(await unsealJson(row.sealed)) });
  for (const row of await db.attempts.toArray())
    if (generationOf(row.sealed) < newest)
      await db.attempts.update(row.identity, { sealed: await sealJson(await unsealJson(row.sealed)) });
  for (const row of await db.units.toArray())
    if (generationOf(row.sealed) < newest)
      await db.units.update(row.piece, { sealed: await sealJson(await unsealJson(row.sealed)) });
  if (hasFormer) await dropFormer(newest);
  await db.vault.update(newest, { whole: true });
}

async function resealToken(newest: number): Promise<void> {
  const device = await db.device.get('me');
  if (device?.token !== undefined)
    await db.device.update('me', { sealedToken: await sealJson(device.token), token: undefined });
  else if (device?.sealedToken !== undefined && generationOf(device.sealedToken) < newest)
    await db.device.update('me', { sealedToken: await sealJson(await unsealJson<string>(device.sealedToken)) });
}

async function resealInterview(uuid: string, newest: number): Promise<void> {
  const row = (await db.interviews.get(uuid)) as InterviewRow | FormerInterview | undefined;
  if (row === undefined || (isSealed(row) && generationOf(row.content) >= newest)) return;
  const turn = isSealed(row) ? row.turn : 0;
  const fresh = isSealed(row)
    ? { ...row, turn: turn + 1, ...(await sealedAnew(row)) }
    : await sealInterview(row, turn + 1);
  await db.transaction('rw', db.interviews, async () => {
    const now = (await db.interviews.get(uuid)) as Partial<InterviewRow> | undefined;
    if (now !== undefined && (now.turn ?? 0) === turn) await db.interviews.put(fresh);
  });
}

async function sealedAnew({ name, content }: InterviewRow): Promise<Pick<InterviewRow, 'name' | 'content'>> {
  return {
    name: await sealJson(await unsealJson(name)),
    content: await sealJson(await unsealJson(content)),
  };
}

async function resealFile(key: [string, string], newest: number): Promise<void> {
  const file = (await db.attachments.get(key)) as AttachmentRow | FormerAttachment | undefined;
  if (file === undefined) return;
  if ('content' in file) {
    const { content, ...rest } = file;
    await db.attachments.put({ ...rest, bytes: content.size, type: content.type, sealed: await sealFile(content) });
    return;
  }
  const first = new Uint8Array(await file.sealed.slice(0, 1).arrayBuffer());
  if (generationOf(first) >= newest) return;
  await db.attachments.put({ ...file, sealed: await sealFile(await unsealFile(file.sealed, file.type)) });
}
