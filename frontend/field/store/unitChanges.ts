// Changing a unit of the register on the phone: what is answered anew is handed in as interviews are.
import type { Json } from '../../shared/engine/types';
import { inLanguage } from '../../shared/interview/languages';
import { db, type ReleaseRow } from './db';
import { momentHere, openInterview, packInterview } from './interviews';
import { addInterview, listUnitChanges, readInterview } from './kept';
import { languagesOf, settingsHere } from './settings';
import { fieldsOf, type CarriedKind, type UnitHere } from './units';

interface Made {
  above: string;
  key: string;
}

let starting: Promise<string> | null = null;

/**
 * Begin to change a unit, at one of its fields; or to make one. Returns the change that is in hand then. Calls while one is
 * under way share it: who presses twice means once.
 */
export function startChange(kind: CarriedKind, unit: UnitHere | Made, at = ''): Promise<string> {
  starting ??= start(kind, unit, at).finally(() => {
    starting = null;
  });
  return starting;
}

async function start(kind: CarriedKind, unit: UnitHere | Made, at: string): Promise<string> {
  if (!('unit' in unit)) return begin(kind, unit, at, '');
  const changes = await listUnitChanges();
  const inHand = changes.find((one) => one.state === 'in hand' && one.about?.identity === unit.unit);
  return inHand?.uuid ?? begin(kind, unit, at, '');
}

/** Say that a unit is no longer there, and why. */
export async function closeUnit(kind: CarriedKind, unit: UnitHere, why: string): Promise<void> {
  const uuid = await begin(kind, unit, '', why);
  const row = await readInterview(uuid);
  const release = await releaseOf(kind);
  if (row === undefined) throw new Error('This change is no longer on the phone.');
  await openInterview(row, release);
  await packInterview(uuid, '');
}

/** Leave a unit as it was: what is in hand of a change goes, with its pictures. */
export async function dropChange(uuid: string): Promise<void> {
  await db.transaction('rw', db.interviews, db.attachments, async () => {
    const row = await db.interviews.get(uuid);
    if (row?.unit !== 1 || row.state !== 'in hand') return;
    await db.attachments.where('interview').equals(uuid).delete();
    await db.interviews.delete(uuid);
  });
}

async function releaseOf(kind: CarriedKind): Promise<ReleaseRow> {
  const release = await db.releases.get(kind.hash);
  if (release === undefined) throw new Error('The fields of this kind are not on the phone.');
  return release;
}

async function begin(kind: CarriedKind, unit: UnitHere | Made, at: string, closed: string): Promise<string> {
  const release = await releaseOf(kind);
  const isKnown = 'unit' in unit;
  const before = isKnown ? unit.answers : {};
  const answers: Record<string, Json> = {};
  for (const { id, variable } of await fieldsOf(kind.hash)) {
    const value = before[id] as Json | undefined;
    if (value !== undefined) answers[variable] = value;
  }
  const now = momentHere();
  const language = languagesOf(release.languages, await settingsHere())[0] ?? 'en';
  const title = inLanguage(kind.title, language);
  const uuid = crypto.randomUUID();
  await addInterview({
    uuid,
    state: 'in hand',
    unit: 1,
    release: release.hash,
    releaseIdentity: release.identity,
    title,
    label: isKnown ? unit.label : title,
    // What is there already is called as it was while it is changed.
    labelPath: isKnown ? '#' : '',
    stoppedAt: '',
    open: 0,
    startedAt: now,
    changedAt: new Date().toISOString(),
    practice: 0,
    path: at === '' ? null : at,
    answers,
    kept: {},
    language,
    events: [],
    about: {
      identity: isKnown ? unit.unit : crypto.randomUUID().replaceAll('-', ''),
      kind: kind.id,
      made: !isKnown,
      above: isKnown ? '' : unit.above,
      key: isKnown ? '' : unit.key,
      before,
      closed,
    },
  });
  return uuid;
}
