// What an interview may read of units: of those that this phone holds, only the fields that a rule of it asks for.
import type { KnownBefore, ReleaseRow } from './db';
import { fieldsOf, listUnits, unitsFrame } from './units';

type Facts = KnownBefore['units'];
interface Wanted {
  any: boolean;
  fields: ReadonlySet<string>;
}

const wanted = new Map<string, Wanted>();

/** Whether a release picks units or goes over them, and which fields of units its rules read. */
export function wantedBy({ hash, compiled }: Pick<ReleaseRow, 'hash' | 'compiled'>): Wanted {
  const known = wanted.get(hash);
  if (known !== undefined) return known;
  const { parts } = JSON.parse(compiled) as { parts: { kind: string; repeat: unknown[] | null }[] };
  const fields = new Set<string>();
  collect(parts, fields);
  const any = parts.some((part) => part.kind === 'unit' || part.repeat?.[0] === 'units');
  const found = { any, fields };
  wanted.set(hash, found);
  return found;
}

/** A rule reads a field as ["unit", which, name, type]. */
function collect(piece: unknown, fields: Set<string>): void {
  if (Array.isArray(piece)) {
    if (piece[0] === 'unit' && piece.length === 4 && typeof piece[2] === 'string') fields.add(piece[2]);
    for (const inner of piece) collect(inner, fields);
  } else if (typeof piece === 'object' && piece !== null)
    for (const inner of Object.values(piece)) collect(inner, fields);
}

/** The facts of units, with those that a visit brought. */
export async function unitsKnown(release: ReleaseRow, visited: Facts): Promise<Facts> {
  const { any, fields } = wantedBy(release);
  const frame = await unitsFrame();
  if (!any || frame === undefined) return visited;
  const kinds = new Map(
    await Promise.all(
      frame.kinds.map(async (kind) => {
        const asked = (await fieldsOf(kind.hash)).filter(({ variable }) => fields.has(variable));
        return [kind.id, { name: kind.name, asked }] as const;
      }),
    ),
  );
  const known: Facts = { ...visited };
  for (const unit of await listUnits()) {
    const kind = kinds.get(unit.kind);
    if (kind === undefined) continue;
    const facts: Record<string, unknown> = { id: unit.key, label: unit.label, kind: kind.name, register: kind.name };
    if (unit.above !== '') facts.under = unit.above;
    for (const { id, variable } of kind.asked) {
      const value = unit.answers[id] ?? unit.derived[id];
      if (value !== undefined && value !== null) facts[variable] = value;
    }
    known[unit.unit] = { ...known[unit.unit], ...facts };
  }
  return known;
}
