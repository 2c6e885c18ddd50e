// Sending what is packed and fetching what is new. An interview leaves the phone only after the office has confirmed
// it byte for byte, files included; whatever goes wrong with one leaves it where it is and stops no other.
import { deviceToken } from './access';
import { sendCarried } from './carried';
import { db, type AttachmentRow, type DeviceRow } from './db';
import { forgetOld, letGo } from './keeping';
import { changeInterview, headsIn, readInterview } from './kept';
import { Problem, type Schemas } from '../../shared/api/client';
import { aboutPhone, isMetered } from './phone';
import { fingerprintOf, forgetKeys, isOpen, isPinned, keyCheck, unsealPiece, wrapForStudy } from './vault';
import { fetchMedia, fetchReleases, forgetOldReleases } from './releases';
import { takeBack } from './sentBack';
import { tellSending } from './progress';
import * as server from './server';
import { attemptsWait, holdVisits, tellAttempts } from './visits';
import { holdSheets } from './sheets';
import { holdUnits } from './units';
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

/** `by itself` sends when the profile lets it, `by hand` sends whatever the network costs. */
export type SyncMode = 'by itself' | 'by hand';

/** Bring phone and office together; calls while one is under way share it. */
export function sync(mode: SyncMode = 'by itself'): Promise<SyncOutcome> {
  running ??= synchronise(mode).finally(() => {
    running = null;
  });
  return running;
}

/** Whether what is packed goes now: as the profile says, and always by hand. */
function maySend(device: DeviceRow, mode: SyncMode): boolean {
  const sends = device.settings?.sends ?? 'any network';
  return mode === 'by hand' || sends === 'any network' || (sends === 'unmetered' && !isMetered());
}

async function synchronise(mode: SyncMode): Promise<SyncOutcome> {
  let handedIn = 0;
  try {
    const device = await db.device.get('me');
    const token = device === undefined ? null : await deviceToken(device);
    if (device === undefined || token === null) return { reached: false, handedIn, problem: '' };
    if (maySend(device, mode)) {
      handedIn = await handInAll(token);
      await tellAttempts(token, stopsAll, wordsOf);
      await sendCarried(token, stopsAll, wordsOf);
    }
    if (!isOpen() && (await isPinned())) {
      // Locked: what waited was sent, and nothing is fetched for nobody.
      if ((await headsIn('packed')).length === 0 && !(await attemptsWait())) forgetKeys();
      return { reached: true, handedIn, problem: '' };
    }
    const problem = await refresh(token);
    return { reached: true, handedIn, problem };
  } catch (error) {
    if (server.isUnreachable(error)) return { reached: false, handedIn, problem: '' };
    if (error instanceof Problem && error.code === 'wipe_ordered') await wipe();
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
  (error instanceof Problem &&
    (error.status === 401 || error.status === 429 || error.code === 'not_allowed' || error.code === 'wipe_ordered'));

async function handInAll(token: string): Promise<number> {
  const packed = (await headsIn('packed')).sort((a, b) => a.changedAt.localeCompare(b.changedAt));
  let arrived = 0;
  for (const { uuid } of packed) if (await handInOne(token, uuid)) arrived += 1;
  return arrived;
}

async function handInOne(token: string, uuid: string): Promise<boolean> {
  try {
    const interview = await readInterview(uuid);
    if (interview?.state !== 'packed') return false;
    if (interview.raw === undefined || interview.hash === undefined)
      throw new Problem('packed_gone', wordsHere()('packedGone'), 0);
    await handInFiles(token, uuid, interview.raw);
    const receipt = await server.handIn(token, interview.uuid, interview.raw);
    if (receipt.hash !== interview.hash) throw new Problem('wrong_receipt', wordsHere()('otherBytes'), 0);
    await letGo(interview, receipt.number);
    return true;
  } catch (error) {
    if (stopsAll(error)) throw error;
    const problem = wordsOf(error);
    await changeInterview(uuid, (now) => (now.problem === problem ? null : { ...now, problem })).catch(() => undefined);
    return false;
  }
}

/** Files first: what is at the office never refers to what is not there. Those that `content` does not name stay. */
export async function handInFiles(token: string, uuid: string, content: string): Promise<void> {
  const waiting = (await db.attachments.where('interview').equals(uuid).toArray()).filter(
    (file) => file.confirmed === 0 && content.includes(file.hash),
  );
  const told = tellSending(uuid, waiting);
  const one = async (): Promise<void> => {
    for (let file = waiting.pop(); file !== undefined; file = waiting.pop()) {
      await handInFile(token, file, told.arrived);
      told.arrived(file.hash, file.bytes);
    }
  };
  const ends = await Promise.allSettled(Array.from({ length: FILES_AT_ONCE }, one));
  told.ended();
  const failed = ends.find((end): end is PromiseRejectedResult => end.status === 'rejected');
  if (failed) throw failed.reason;
}

async function handInFile(
  token: string,
  file: AttachmentRow,
  arrived: (hash: string, upTo: number) => void,
): Promise<void> {
  const confirmed = await server.handInFile(token, file, (from) => {
    arrived(file.hash, from);
    return unsealPiece(file.sealed, from);
  });
  if (confirmed !== file.hash) throw new Problem('wrong_receipt', wordsHere()('otherBytes'), 0);
  await db.attachments.update([file.interview, file.hash], { confirmed: 1 });
}

/** The releases that are here, with how many interviews in hand or packed were begun with each. */
async function heldReleases(): Promise<Record<string, number>> {
  const held = Object.fromEntries((await db.releases.toCollection().primaryKeys()).map((hash) => [hash, 0]));
  for (const row of await headsIn('in hand', 'packed')) held[row.release] = (held[row.release] ?? 0) + 1;
  return held;
}

/** Fetch what is new; returns what the enumerator should know of it. */
async function refresh(token: string): Promise<string> {
  const asked = Date.now();
  const profile = await server.profile(token, await carried());
  const clockAheadSeconds = Math.round(((asked + Date.now()) / 2 - new Date(profile.server_time).getTime()) / 1000);
  const { study, settings, tally, study_key: studyKey, left, round } = profile;
  const studyMark = await checkedMark(studyKey);
  await db.device.update('me', {
    heardAt: new Date().toISOString(),
    study,
    settings,
    tally,
    studyKey,
    studyMark,
    left,
    round,
    clockAheadSeconds,
  });
  if (isOpen()) await wrapForStudy(studyKey);
  const unread = await fetchReleases(token, profile.releases);
  if (isOpen()) {
    await takeBack(token, profile.sent_back);
    await holdVisits(token, profile.visits);
    await holdUnits(token, profile.units);
  }
  await forgetOldReleases(profile.releases, profile.withdrawn);
  await fetchMedia(token);
  await forgetOld();
  // Beside the rest: a large map keeps no interview waiting. Where it breaks off it goes on at the next contact.
  const paysForIt = settings.sends !== 'any network' && isMetered();
  if (isOpen()) void holdSheets(token, profile.sheets, !paysForIt).catch(() => undefined);
  return unread;
}

/** What the office is told of this phone. */
async function carried(): Promise<Schemas['Carries']> {
  const [inHand, packed, files] = await Promise.all([
    headsIn('in hand'),
    headsIn('packed'),
    db.attachments.filter((file) => file.confirmed === 0).count(),
  ]);
  return {
    in_hand: inHand.length,
    packed: packed.length,
    files,
    releases: await heldReleases(),
    sheets: (await db.sheets.toArray()).filter((row) => row.whole === 1).map((row) => row.hash),
    ...(await aboutPhone()),
    locked: await isPinned(),
    key_check: isOpen() ? await keyCheck() : '',
  };
}

/** The fingerprint of the study's key; nothing is wrapped for one that is not the one in the pairing picture. */
async function checkedMark(studyKey: string): Promise<string> {
  const wanted = (await db.device.get('me'))?.keyMark;
  const mark = await fingerprintOf(studyKey);
  if (wanted !== undefined && mark !== wanted) throw new Problem('other_key', wordsHere()('otherKey'), 0);
  return mark;
}

/** The office has ordered this phone to forget everything: it does, says so, and starts afresh. */
async function wipe(): Promise<void> {
  const device = await db.device.get('me');
  const token = device === undefined ? null : await deviceToken(device);
  await db.delete();
  localStorage.clear();
  if (token !== null) await server.wiped(token).catch(() => undefined);
  window.location.assign('/field/?forgotten');
}
