// Starting, keeping and packing interviews on the phone.
import { FORMATS } from '../../shared/api/contract';
import type { Schemas } from '../../shared/api/client';
import { theEngine } from '../../shared/engine/client';
import { ENGINE_FOLDER } from '../../shared/engine/generated';
import type { ExerciseDifference, Json, PackedInterview, Screen } from '../../shared/engine/types';
import { inLanguage } from '../../shared/interview/languages';
import { hashOf } from '../../shared/hash';
import { learnWords } from '../../shared/interview/texts';
import { languagesOf, settingsHere } from './settings';
import { notedBy, notePlace, type Noted } from './noted';
import {
  db,
  type AboutUnit,
  type DeviceRow,
  type Interview,
  type KnownBefore,
  type ParadataEvent,
  type ReleaseRow,
  type VisitedOn,
} from './db';
import { addInterview, changeInterview, readInterview } from './kept';
import { unitsKnown } from './unitFacts';
import { keepAttempt, outcomeAfter } from './visits';

type InterviewDocument = Schemas['InterviewDocument'];
export type PackedAnswers = PackedInterview;

const NOTHING_KNOWN: KnownBefore = { unit: null, units: {}, earlier: {} };

/** A new interview, in hand; on a visit where it was begun from one, and called as whoever is visited. */
export async function startInterview(
  release: ReleaseRow,
  practice: boolean,
  exercise?: string,
  begun?: { visited: VisitedOn; label: string },
): Promise<string> {
  const at = momentHere();
  const language = languagesOf(release.languages, await settingsHere())[0] ?? 'en';
  const uuid = crypto.randomUUID();
  await addInterview({
    uuid,
    state: 'in hand',
    release: release.hash,
    releaseIdentity: release.identity,
    title: inLanguage(release.title, language),
    label: begun?.label ?? '',
    labelPath: '',
    stoppedAt: '',
    open: 0,
    startedAt: at,
    changedAt: at,
    practice: practice ? 1 : 0,
    ...(exercise === undefined ? {} : { exercise }),
    path: null,
    answers: {},
    kept: {},
    language,
    events: [],
    ...(begun === undefined ? {} : { visited: begun.visited }),
  });
  if (notedBy(release).place) notePlace(uuid);
  return uuid;
}

type Words = Record<string, Record<string, string>>;

/** The words that a release brings for languages that the phone does not speak by itself. */
const ownWords = (release: ReleaseRow): Words => (JSON.parse(release.compiled) as { words?: Words }).words ?? {};

/** Open an interview in the engine; returns the paths of its screens. */
export async function openInterview(interview: Interview, release: ReleaseRow): Promise<string[]> {
  const device = await db.device.get('me');
  const engine = theEngine();
  await engine.call('loadRelease', release.hash, release.compiled);
  learnWords(ownWords(release));
  return engine.call(
    'open',
    interview.uuid,
    release.hash,
    { answers: interview.answers, kept: interview.kept, language: interview.language },
    {
      now: momentHere(),
      'interview.started': interview.startedAt,
      'interview.seed': interview.uuid,
      'enumerator.name': device?.enumerator ?? '',
      ...interview.visited?.known,
      units: await unitsKnown(release, interview.visited?.known.units ?? {}),
    },
  );
}

/** What one step changed of an open interview. */
export interface Changes {
  answers: Record<string, Json>;
  kept: Record<string, string>;
  language: string;
}

/** Write down what changed in an open interview; called after each answer. */
export async function keepInterview(
  uuid: string,
  screen: Screen | null,
  events: ParadataEvent[],
  changes: Changes,
): Promise<void> {
  const now = new Date().toISOString();
  const kept = await changeInterview(uuid, (interview) => {
    for (const [path, value] of Object.entries(changes.answers)) {
      if (value === null) Reflect.deleteProperty(interview.answers, path);
      else interview.answers[path] = value;
    }
    interview.kept = changes.kept;
    interview.language = changes.language;
    interview.changedAt = now;
    if (screen) stopAt(interview, screen);
    interview.events.push(...events);
    return interview;
  });
  if (kept === undefined) throw new Error('This interview is no longer on the phone.');
}

/** Keep what the enumerator remarks at a question; "" takes it back. */
export async function keepRemark(uuid: string, path: string, words: string): Promise<void> {
  await changeInterview(uuid, (row) => {
    const remarks = { ...row.remarks, [path]: words.trim() };
    if (remarks[path] === '') Reflect.deleteProperty(remarks, path);
    return { ...row, remarks, changedAt: new Date().toISOString() };
  });
}

/** How much is still to ask, for the list of interviews; told when one is left. */
export async function tellRemaining(uuid: string, path: string): Promise<void> {
  const open = await theEngine().call('remaining', uuid, path);
  await changeInterview(uuid, (row) => ({ ...row, open }));
}

function stopAt(row: Interview, screen: Screen): void {
  row.path = screen.path;
  row.stoppedAt = screen.around.map((a) => a.title).find((title) => title !== '') ?? '';
  if (
    screen.kind === 'text' &&
    typeof screen.value === 'string' &&
    (row.labelPath === '' || row.labelPath === screen.path)
  ) {
    row.label = screen.value;
    row.labelPath = screen.path;
  }
}

const toldOf = ({ identity, made, above, key, before, closed }: AboutUnit): Schemas['UnitTold'] => ({
  identity,
  made,
  above,
  key,
  before,
  closed,
});

/** An interview as it is handed in. */
export function documentOf(
  row: Interview,
  device: DeviceRow,
  packed: PackedAnswers,
  unfinished: string,
  noted: Noted,
  exercise: InterviewDocument['paradata']['exercise'] = null,
): InterviewDocument {
  const known = row.visited?.known ?? NOTHING_KNOWN;
  return {
    format: FORMATS.interview,
    uuid: row.uuid,
    release: row.releaseIdentity ?? '',
    release_hash: row.release,
    basis: row.correction?.basis ?? '',
    answers: packed.answers,
    derived: packed.derived,
    kept: packed.kept,
    language: packed.language,
    remarks: { ...row.remarks },
    practice: row.practice === 1,
    unfinished,
    visit: row.visited?.visit ?? '',
    known: { ...known, units: { ...known.units, ...packed.units } },
    about: row.about === undefined ? null : toldOf(row.about),
    paradata: {
      started: row.startedAt,
      ended: momentHere(),
      device: noted.device ? device.device : '',
      enumerator: device.enumerator,
      events: row.events.map((event) => ({ ...event })),
      paper: null,
      exercise,
      place: row.place === undefined ? null : { ...row.place },
      engine: ENGINE_FOLDER.split('/').at(-2) ?? '',
      clock_ahead_seconds: device.clockAheadSeconds ?? null,
    },
  };
}

/**
 * Seal an interview: what is handed in, word for word, and its hash. `unfinished` says why, where it has to be. Returns
 * what was entered otherwise than in the exercise, null where it was none. A visit that it was made on ends with
 * `outcome`, or with what follows from its being whole.
 */
export async function packInterview(
  uuid: string,
  unfinished: string,
  outcome = '',
): Promise<ExerciseDifference[] | null> {
  const row = await readInterview(uuid);
  const device = await db.device.get('me');
  if (!row || !device) throw new Error('This interview is no longer on the phone.');
  const packed = await packedAnswers(row);
  const release = await db.releases.get(row.release);
  const exercise = release?.exercises?.all.find((one) => one.name === row.exercise);
  const differences = exercise === undefined ? null : await theEngine().call('exercise', uuid, exercise);
  const noted = notedBy(release);
  const practised = differences === null ? null : { name: row.exercise ?? '', differences: differences.length };
  const raw = JSON.stringify(documentOf(row, device, packed, unfinished, noted, practised));
  const hash = await hashOf(raw);
  const packedAt = new Date().toISOString();
  await changeInterview(uuid, (now) => ({
    ...now,
    state: 'packed',
    raw,
    hash,
    changedAt: packedAt,
    problem: undefined,
  }));
  if (row.visited !== undefined && row.correction === undefined && row.practice === 0)
    await endVisit(row, device, outcome === '' ? outcomeAfter(device.visits, unfinished) : outcome, packedAt);
  await theEngine().call('close', uuid);
  return differences;
}

/** What is handed in: of a unit all that is known of it, also what is not asked of it now. */
async function packedAnswers(row: Interview): Promise<PackedAnswers> {
  const packed = await theEngine().call('packed', row.uuid);
  return row.about === undefined ? packed : { ...packed, ...(await theEngine().call('saved', row.uuid)) };
}

/** Tell how the visit ended that an interview was made on: one without any outcome is told by the interview alone. */
async function endVisit(row: Interview, device: DeviceRow, outcome: string, at: string): Promise<void> {
  const { visited, place } = row;
  if (visited === undefined || visited.visit === '' || device.visits === undefined || outcome === '') return;
  const known = place !== undefined && 'latitude' in place ? place : null;
  await keepAttempt({
    visit: visited.visit,
    outcome,
    at,
    appointment: null,
    remark: '',
    interview: row.uuid,
    latitude: known?.latitude ?? null,
    longitude: known?.longitude ?? null,
    accuracy: known?.accuracy ?? null,
  });
}

/** The present moment with the phone's own offset, so that `today` is the enumerator's day. */
export function momentHere(): string {
  const now = new Date();
  const minutes = -now.getTimezoneOffset();
  const two = (n: number) => String(Math.floor(Math.abs(n))).padStart(2, '0');
  const local = new Date(now.getTime() + minutes * 60_000).toISOString().slice(0, 19);
  return `${local}${minutes < 0 ? '-' : '+'}${two(minutes / 60)}:${two(minutes % 60)}`;
}
