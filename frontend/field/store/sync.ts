// Sending what is packed and fetching what is new. An interview leaves the phone only after the office has confirmed
// it byte for byte, files included; whatever goes wrong with one leaves it where it is and stops no other.
import { Problem } from '../../shared/api/client';
import { db, type AttachmentRow, type InterviewRow } from './db';
import { fetchMedia, fetchReleases, forgetOldReleases } from './releases';
import { takeBack } from './sentBack';
import * as server from './server';
import { problemWords } from '../texts/problems';
import { wordsHere } from '../texts/texts';
import { TROUBLES, troubleOf } from './troubles';

export interface SyncOutcome {
  reached: boolean;
  handedIn: number;
  problem: string;
}

const FILES_AT_ONCE = 3;
let running: Promise<SyncOutcome> | null = null;

/** Bring phone and office together; calls while one is under way share it. */
export function sync(): Promise<SyncOutcome> {
  running ??= synchronise().finally(() => {
    running = null;
  });
  return running;
}

async function synchronise(): Promise<SyncOutcome> {
  let handedIn = 0;
  try {
    const device = await db.device.get('me');
    if (!device) return { reached: false, handedIn, problem: '' };
    for (const interview of await db.interviews.where('state').equals('packed').sortBy('changedAt')) {
      if (await handInOne(device.token, interview)) handedIn += 1;
    }
    const problem = await refresh(device.token);
    return { reached: true, handedIn, problem };
  } catch (error) {
    if (server.isUnreachable(error)) return { reached: false, handedIn, problem: '' };
    return { reached: true, handedIn, problem: wordsOf(error) };
  }
}

function wordsOf(error: unknown): string {
  if (error instanceof Problem) return problemWords(error, wordsHere());
  const trouble = troubleOf(error);
  return wordsHere()(trouble === 'unforeseen' ? 'sendingFailed' : TROUBLES[trouble]);
}

/** What concerns the whole phone and not this interview: there is no use in trying the next one. */
const stopsAll = (error: unknown): boolean =>
  server.isUnreachable(error) ||
  (error instanceof Problem && (error.status === 401 || error.status === 429 || error.code === 'not_allowed'));

async function handInOne(token: string, interview: InterviewRow): Promise<boolean> {
  try {
    if (interview.raw === undefined || interview.hash === undefined)
      throw new Problem('packed_gone', wordsHere()('packedGone'), 0);
    await handInFiles(token, interview);
    const receipt = await server.handIn(token, interview.uuid, interview.raw);
    if (receipt.hash !== interview.hash) throw new Problem('wrong_receipt', wordsHere()('otherBytes'), 0);
    await letGo(interview, receipt.number);
    return true;
  } catch (error) {
    if (stopsAll(error)) throw error;
    await db.interviews.update(interview.uuid, { problem: wordsOf(error) }).catch(() => undefined);
    return false;
  }
}

/** Files first: an interview at the office never refers to what is not there. Those no answer refers to any more stay. */
async function handInFiles(token: string, interview: InterviewRow): Promise<void> {
  const raw = interview.raw ?? '';
  const waiting = (await db.attachments.where('interview').equals(interview.uuid).toArray()).filter(
    (file) => file.confirmed === 0 && raw.includes(file.hash),
  );
  const one = async (): Promise<void> => {
    for (let file = waiting.pop(); file !== undefined; file = waiting.pop()) await handInFile(token, file);
  };
  const ends = await Promise.allSettled(Array.from({ length: FILES_AT_ONCE }, one));
  const failed = ends.find((end): end is PromiseRejectedResult => end.status === 'rejected');
  if (failed) throw failed.reason;
}

async function handInFile(token: string, file: AttachmentRow): Promise<void> {
  const confirmed = await server.handInFile(token, file.interview, file.hash, file.kind, file.content);
  if (confirmed !== file.hash) throw new Problem('wrong_receipt', wordsHere()('otherBytes'), 0);
  await db.attachments.update([file.interview, file.hash], { confirmed: 1 });
}

/** Keep of an interview only what proves that it arrived; its files go with it. */
async function letGo(interview: InterviewRow, number: number): Promise<void> {
  await db.transaction('rw', db.interviews, db.attachments, async () => {
    const now = await db.interviews.get(interview.uuid);
    // Packed anew meanwhile, in another tab: what was confirmed is not what is here.
    if (now?.hash !== interview.hash || now?.state !== 'packed') return;
    await db.attachments.where('interview').equals(interview.uuid).delete();
    await db.interviews.update(interview.uuid, {
      state: 'handed in',
      number,
      changedAt: new Date().toISOString(),
      answers: {},
      kept: {},
      events: [],
      label: '',
      labelPath: '',
      correction: undefined,
      raw: undefined,
      problem: undefined,
    });
  });
}

/** The releases that are here, with how many interviews in hand or packed were begun with each. */
async function heldReleases(): Promise<Record<string, number>> {
  const held = Object.fromEntries((await db.releases.toCollection().primaryKeys()).map((hash) => [hash, 0]));
  for (const row of await db.interviews.where('state').anyOf('in hand', 'packed').toArray())
    held[row.release] = (held[row.release] ?? 0) + 1;
  return held;
}

/** Fetch what is new; returns what the enumerator should know of it. */
async function refresh(token: string): Promise<string> {
  const [inHand, packed] = await Promise.all([
    db.interviews.where('state').equals('in hand').count(),
    db.interviews.where('state').equals('packed').count(),
  ]);
  const asked = Date.now();
  const profile = await server.profile(token, { in_hand: inHand, packed, releases: await heldReleases() });
  const clockAheadSeconds = Math.round(((asked + Date.now()) / 2 - new Date(profile.server_time).getTime()) / 1000);
  await db.device.update('me', { heardAt: new Date().toISOString(), study: profile.study, clockAheadSeconds });
  const unread = await fetchReleases(token, profile.releases);
  await takeBack(token, profile.sent_back);
  await forgetOldReleases(profile.releases, profile.withdrawn);
  await fetchMedia(token);
  return unread;
}
