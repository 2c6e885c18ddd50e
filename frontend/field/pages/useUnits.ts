// The units of this phone as a tree: what lies under what, in the order in which one looks for it.
import { useLiveQuery } from 'dexie-react-hooks';
import { useMemo } from 'react';
import type { UnitsFrame } from '../store/db';
import { listUnits, unitsFrame, type CarriedKind, type UnitHere } from '../store/units';

export interface Units {
  frame: UnitsFrame;
  byId: Map<string, UnitHere>;
  kinds: Map<number, CarriedKind>;
  /** What lies directly under each, "" for the outermost. */
  below: Map<string, UnitHere[]>;
  /** What a unit lies under, the outermost first. */
  way: (unit: UnitHere) => UnitHere[];
}

/** Undefined until they are known, null where this phone carries none. */
export function useUnits(): Units | null | undefined {
  const known = useLiveQuery(async () => ({ frame: await unitsFrame(), units: await listUnits() }), []);
  return useMemo(() => {
    if (known === undefined) return undefined;
    const { frame, units } = known;
    return frame === undefined ? null : asTree(frame, units);
  }, [known]);
}

/** 9 comes before 10. */
const order = new Intl.Collator(undefined, { numeric: true, sensitivity: 'base' });

export function asTree(frame: UnitsFrame, units: UnitHere[]): Units {
  const kinds = new Map(frame.kinds.map((kind) => [kind.id, kind]));
  const position = new Map(frame.kinds.map((kind, at) => [kind.id, at]));
  const below = new Map<string, UnitHere[]>();
  const sorted = [...units].sort(
    (a, b) => (position.get(a.kind) ?? 0) - (position.get(b.kind) ?? 0) || order.compare(a.label, b.label),
  );
  const byId = new Map(sorted.map((unit) => [unit.unit, unit]));
  for (const unit of sorted) {
    // What hangs under something that is not here stands outermost, so that none is lost.
    const above = byId.has(unit.above) ? unit.above : '';
    below.set(above, [...(below.get(above) ?? []), unit]);
  }
  const way = (unit: UnitHere): UnitHere[] => {
    const found: UnitHere[] = [];
    let at = byId.get(unit.above);
    while (at !== undefined && !found.includes(at)) {
      found.unshift(at);
      at = byId.get(at.above);
    }
    return found;
  };
  return { frame, byId, kinds, below, way };
}

/** The kinds that may be made under a unit, or outermost: there only what becomes somebody's own. */
export const madeUnder = (units: Units, above: UnitHere | null): CarriedKind[] =>
  units.frame.kinds.filter(
    ({ hash, settings }) =>
      hash !== '' &&
      settings.on_phones === 'change' &&
      (above === null ? settings.own && settings.stands_alone : settings.under.includes(above.kind)),
  );
