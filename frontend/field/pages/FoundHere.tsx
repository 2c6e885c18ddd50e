// A unit that nobody has listed yet, found where an interview is led: it is added to the register, and is the answer.
import type { Interview, ReleaseRow } from '../store/db';
import { MakeUnit } from '../ui/MakeUnit';
import { useUnits } from './useUnits';

interface Props {
  row: Interview;
  release: ReleaseRow;
  path: string;
}

/** Offered where a unit may be made of the kind that is asked for: under the one that is visited, or outermost. */
export function FoundHere({ row, release, path }: Props) {
  const units = useUnits();
  if (units == null) return null;
  const { parts } = JSON.parse(release.compiled) as { parts: { variable: string; register: string }[] };
  const register = parts.find((part) => part.variable === path.split('/').at(-1))?.register ?? '';
  const visited = units.byId.get(row.visited?.known.unit ?? '') ?? null;
  const may = units.frame.kinds.filter(
    ({ name, hash, settings }) =>
      hash !== '' && settings.on_phones === 'change' && (register === '' || name === register),
  );
  const under = may.filter(({ settings }) => visited !== null && settings.under.includes(visited.kind));
  const kinds = under.length > 0 ? under : may.filter(({ settings }) => settings.stands_alone && settings.own);
  if (kinds.length === 0) return null;
  return <MakeUnit kinds={kinds} above={under.length > 0 ? visited : null} then={{ interview: row.uuid, path }} />;
}
