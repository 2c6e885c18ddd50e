// The interviews of this phone: read and written whole, sealed on the way. Every writer goes through here.
import { db, type Interview, type InterviewHead, type InterviewListed, type InterviewRow } from './db';
import { checkSeal, sealJson, unsealJson } from './vault';

const MOST_TRIES = 20;
/** What was unsealed last: lists are read again after every change, and one interview after every answer. */
const names = new Map<string, { seal: string; listed: InterviewListed }>();
let opened: { seal: string; interview: Interview } | null = null;

/** By what something sealed is known again: the generation of its key and its nonce, which never comes twice. */
const sealOf = (sealed: Uint8Array): string => sealed.slice(0, 13).join();

/** Forget what was unsealed, as when the phone is locked. */
export function forgetUnsealed(): void {
  names.clear();
  opened = null;
}

/** An interview as it is kept. */
export async function sealInterview(interview: Interview, turn: number): Promise<InterviewRow> {
  const {
    label,
    labelPath,
    stoppedAt,
    correction,
    path,
    answers,
    kept,
    events,
    remarks,
    place,
    visited,
    about,
    raw,
    ...head
  } = interview;
  const [name, content] = await Promise.all([
    sealJson({ label, labelPath, stoppedAt, correction, visited, about }),
    sealJson({ path, answers, kept, events, remarks, place, raw }),
  ]);
  return { ...(head satisfies InterviewHead), turn, name, content };
}

/** What anyone may know of it. */
export function headOf(row: InterviewRow): InterviewHead {
  const head: Partial<InterviewRow> = { ...row };
  delete head.turn;
  delete head.name;
  delete head.content;
  return head as InterviewHead;
}

async function listedOf(row: InterviewRow): Promise<InterviewListed> {
  const known = names.get(row.uuid);
  if (known?.seal === sealOf(row.name)) return { ...known.listed, ...headOf(row) };
  const listed: InterviewListed = {
    ...headOf(row),
    ...(await unsealJson<Omit<InterviewListed, keyof InterviewHead>>(row.name)),
  };
  names.set(row.uuid, { seal: sealOf(row.name), listed });
  return listed;
}

async function wholeOf(row: InterviewRow): Promise<Interview> {
  if (opened?.interview.uuid === row.uuid && opened.seal === sealOf(row.content))
    return { ...opened.interview, ...headOf(row) };
  const listed = await listedOf(row);
  return { ...listed, ...(await unsealJson<Omit<Interview, keyof InterviewListed>>(row.content)) };
}

export async function readInterview(uuid: string): Promise<Interview | undefined> {
  const row = await db.interviews.get(uuid);
  return row === undefined ? undefined : wholeOf(row);
}

/** Keep a new interview. */
export async function addInterview(interview: Interview): Promise<void> {
  const row = await sealInterview(interview, 1);
  await db.transaction('rw', db.interviews, db.vault, async () => {
    await checkSeal(row.content[0] ?? 0);
    await db.interviews.add(row);
  });
}

/**
 * Change an interview as `change` says; null leaves it as it is. Returns what is kept now, undefined where there is none.
 * `meanwhile` runs in the same transaction.
 */
export async function changeInterview(
  uuid: string,
  change: (interview: Interview) => Interview | null,
  meanwhile?: () => Promise<unknown>,
): Promise<Interview | undefined> {
  for (let tried = 0; tried < MOST_TRIES; tried += 1) {
    const before = await db.interviews.get(uuid);
    if (before === undefined) return undefined;
    const interview = await wholeOf(before);
    const changed = change({ ...interview, answers: { ...interview.answers }, events: [...interview.events] });
    if (changed === null) return interview;
    const row = await sealInterview(changed, before.turn + 1);
    const written = await db.transaction('rw', db.interviews, db.attachments, db.vault, async () => {
      await checkSeal(row.content[0] ?? 0);
      if ((await db.interviews.get(uuid))?.turn !== before.turn) return false;
      await db.interviews.put(row);
      await meanwhile?.();
      return true;
    });
    if (written) {
      opened = { seal: sealOf(row.content), interview: changed };
      return changed;
    }
  }
  throw new Error('This interview is changed by another page all the time.');
}

/** All interviews for lists, the last changed first. */
export async function listInterviews(): Promise<InterviewListed[]> {
  const rows = await db.interviews.orderBy('changedAt').reverse().toArray();
  return Promise.all(rows.filter((row) => row.unit !== 1).map(listedOf));
}

/** All changes of units, in the order in which they were made. */
export async function listUnitChanges(): Promise<Interview[]> {
  const rows = await db.interviews.filter((row) => row.unit === 1).toArray();
  const changes = await Promise.all(rows.map(wholeOf));
  return changes.sort((a, b) => Date.parse(a.startedAt) - Date.parse(b.startedAt));
}

/** The heads of those in certain states. */
export async function headsIn(...states: InterviewHead['state'][]): Promise<InterviewHead[]> {
  return (await db.interviews.where('state').anyOf(states).toArray()).map(headOf);
}
