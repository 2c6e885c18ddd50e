// The units of the register that this phone holds, with what was changed here and the office has not told back yet.
import type { Schemas } from '../../shared/api/client';
import type { Json } from '../../shared/engine/types';
import { db, type Interview, type UnitPieceRow, type UnitsFrame } from './db';
import { changeInterview, listUnitChanges } from './kept';
import { fetchRelease } from './releases';
import * as server from './server';
import { checkSeal, sealJson, unsealJson } from './vault';

type Carried = Schemas['CarriedUnit'];
export type CarriedKind = Schemas['CarriedKind'];

/** What stands in the way of what was done here: it waits for a network, is in hand, or somebody has to decide. */
export interface UnitHere extends Carried {
  waits: boolean;
  /** The change of it that is in hand, "" for none. */
  inHand: string;
  undecided: boolean;
  problem?: string;
}

const NOTHING: Schemas['CarriedUnits'] = { mark: '', kinds: [], pieces: [], gone: [], waiting: [] };
const unsealed = new Map<string, { seal: string; units: Carried[] }>();

/** Forget what was unsealed, as when the phone is locked. */
export function forgetUnits(): void {
  unsealed.clear();
}

/** Hold the units that the office has for this person; `mark` tells whether they are those that are here. */
export async function holdUnits(token: string, mark: string): Promise<void> {
  const sent = (await listUnitChanges()).filter((row) => row.state === 'handed in' && row.about?.told !== true);
  if (mark !== ((await db.device.get('me'))?.units?.mark ?? '')) await take(token, mark);
  for (const { uuid } of sent)
    await changeInterview(uuid, (now) =>
      now.about === undefined ? null : { ...now, about: { ...now.about, told: true } },
    );
}

async function take(token: string, mark: string): Promise<void> {
  const held = await db.units.toArray();
  const marks = Object.fromEntries(held.map((row) => [row.piece, row.mark]));
  const told = mark === '' ? { ...NOTHING, gone: Object.keys(marks) } : await server.fetchUnits(token, marks);
  for (const kind of told.kinds)
    if (kind.release !== '' && (await db.releases.get(kind.hash)) === undefined)
      await fetchRelease(token, kind.release);
  const rows: UnitPieceRow[] = [];
  for (const piece of told.pieces)
    rows.push({ piece: piece.name, mark: piece.mark, sealed: await sealJson(piece.units) });
  const frame: UnitsFrame = { mark: told.mark, kinds: told.kinds, waiting: told.waiting };
  await db.transaction('rw', db.units, db.device, db.vault, async () => {
    const [first] = rows;
    if (first !== undefined) await checkSeal(first.sealed[0] ?? 0);
    await db.units.bulkDelete(told.gone);
    await db.units.bulkPut(rows);
    await db.device.update('me', { units: mark === '' ? undefined : frame });
  });
}

async function unitsOf(row: UnitPieceRow): Promise<Carried[]> {
  const seal = row.sealed.slice(0, 13).join();
  const known = unsealed.get(row.piece);
  if (known?.seal === seal) return known.units;
  const units = await unsealJson<Carried[]>(row.sealed);
  unsealed.set(row.piece, { seal, units });
  return units;
}

/** All units that are here, as they are once what was changed here has arrived. */
export async function listUnits(): Promise<UnitHere[]> {
  const [pieces, changes, frame] = await Promise.all([db.units.toArray(), listUnitChanges(), unitsFrame()]);
  const units = (await Promise.all(pieces.map(unitsOf))).flat();
  const here = new Map<string, UnitHere>(
    units.map((unit) => [unit.unit, { ...unit, waits: false, inHand: '', undecided: false }]),
  );
  for (const change of changes) {
    const kind = frame?.kinds.find((one) => one.id === change.about?.kind);
    if (kind !== undefined) await putChange(here, change, kind, frame?.waiting.includes(change.uuid) === true);
  }
  return [...here.values()];
}

export const unitsFrame = async (): Promise<UnitsFrame | undefined> => (await db.device.get('me'))?.units;

/** Put a change on top of what the office has told. */
async function putChange(
  here: Map<string, UnitHere>,
  change: Interview,
  kind: CarriedKind,
  undecided: boolean,
): Promise<void> {
  const { about } = change;
  if (about === undefined) return;
  const known = here.get(about.identity);
  if (change.state === 'in hand') {
    const begun = bare(about.identity, kind.id, about.above, about.key, kind.settings.own);
    const shown = known ?? { ...begun, label: change.label, waits: false, undecided: false };
    here.set(about.identity, { ...shown, inHand: change.uuid });
    return;
  }
  // Of what the office has taken in, it tells itself; what it has made nothing of yet stays as it was left.
  const isSettled = about.told === true && !(undecided && about.made && known === undefined);
  if (isSettled) {
    if (known !== undefined && undecided) here.set(about.identity, { ...known, undecided });
    return;
  }
  if (about.closed !== '') {
    closeBranch(here, about.identity);
    return;
  }
  const fields = await fieldsOf(change.release);
  const answers: Record<string, Json> = {};
  for (const { id, variable } of fields) {
    const value = change.answers[variable];
    if (value !== undefined && value !== null) answers[id] = value;
  }
  const label = answers[kind.settings.label];
  const key = known?.key ?? about.key;
  here.set(about.identity, {
    ...(known ?? bare(about.identity, kind.id, about.above, key, kind.settings.own)),
    answers,
    label: typeof label === 'string' && label !== '' ? label : key,
    waits: change.state === 'packed',
    inHand: '',
    undecided,
    problem: change.problem,
  });
}

const bare = (unit: string, kind: number, above: string, key: string, own: boolean): Carried => ({
  unit,
  kind,
  above,
  key,
  own,
  label: key,
  place: null,
  answers: {},
  derived: {},
  faults: 0,
  filled: 0,
  asked: 0,
});

/** What is closed is gone, with all that lies below it. */
function closeBranch(here: Map<string, UnitHere>, unit: string): void {
  here.delete(unit);
  for (const [below, one] of here) if (one.above === unit) closeBranch(here, below);
}

/** The paths of those fields of a kind that stay at the office. */
export async function hiddenPaths(kindId: number): Promise<ReadonlySet<string>> {
  const kind = (await unitsFrame())?.kinds.find((one) => one.id === kindId);
  if (kind === undefined) return new Set();
  const hidden = new Set(kind.hidden);
  return new Set((await fieldsOf(kind.hash)).filter(({ id }) => hidden.has(id)).map(({ variable }) => variable));
}

const fields = new Map<string, { id: string; variable: string }[]>();

/** The fields of a kind by its release: identity and path. */
export async function fieldsOf(release: string): Promise<{ id: string; variable: string }[]> {
  const known = fields.get(release);
  if (known !== undefined) return known;
  const row = await db.releases.get(release);
  if (row === undefined) return [];
  const { parts } = JSON.parse(row.compiled) as { parts: { id: string; variable: string; type: string | null }[] };
  const found = parts.filter((part) => part.variable !== '').map(({ id, variable }) => ({ id, variable }));
  fields.set(release, found);
  return found;
}
