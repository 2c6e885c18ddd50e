// Two people, or one with two tabs, change one script: what each changed is kept, part by part and field by field.
// The same serves undo: taking an edit back is a change from what it made to what was there before.
import { MOST_LEVELS, holdsParts, type Part, type Script } from './model';

/** A field that both changed: `kept` stands in the script now, `other` does not. */
export interface Clash {
  partId: string;
  place: string;
  kept: unknown;
  other: unknown;
}

export interface Merged {
  script: Script;
  clashes: Clash[];
}

type Fields = Record<string, unknown>;
/** What tells the entries of a list apart, by the field that holds the list. */
const KEYS: Record<string, string> = {
  parts: 'id',
  code_lists: 'name',
  codes: 'code',
  unit_lists: 'name',
  units: 'unit',
};

/** `mine` and `theirs` both come from `base`. Where both changed one field, theirs is kept: it is saved already. */
export function merge(base: Script, mine: Script, theirs: Script): Merged {
  if (same(theirs, base) || same(mine, theirs)) return { script: mine, clashes: [] };
  const clashes: Clash[] = [];
  const merged = both(base, mine, theirs, '', '', clashes) as Script;
  return { script: { ...merged, parts: soundLevels(merged.parts) }, clashes };
}

/** The script with my words in the place of theirs. */
export function withClash(script: Script, clash: Clash): Script {
  const path = clash.place.split('.');
  if (clash.partId === '') return put(script, path, clash.other) as Script;
  return {
    ...script,
    parts: script.parts.map((part) => (part.id === clash.partId ? (put(part, path, clash.other) as Part) : part)),
  };
}

/** `value` at `path`; an entry of a list is found by what tells it apart. */
function put(into: unknown, path: string[], value: unknown, list = ''): unknown {
  const [first, ...rest] = path;
  if (first === undefined) return value;
  const key = KEYS[list];
  if (Array.isArray(into) && key !== undefined)
    return into.map((entry: Fields) => (String(entry[key]) === first ? put(entry, rest, value) : entry));
  const fields = isFields(into) ? into : {};
  return { ...fields, [first]: put(fields[first], rest, value, first) };
}

export function same(a: unknown, b: unknown): boolean {
  return a === b || JSON.stringify(a) === JSON.stringify(b);
}

/** The outline with no line deeper than what stands above it allows. */
export function soundLevels(parts: Part[]): Part[] {
  let most = 1;
  return parts.map((part) => {
    const level = Math.min(part.level, most);
    most = Math.min(holdsParts(part) ? level + 1 : level, MOST_LEVELS);
    return level === part.level ? part : { ...part, level };
  });
}

const isFields = (x: unknown): x is Fields => typeof x === 'object' && x !== null && !Array.isArray(x);

function both(base: unknown, mine: unknown, theirs: unknown, partId: string, place: string, clashes: Clash[]): unknown {
  if (same(theirs, base) || same(mine, theirs)) return mine;
  const key = KEYS[place.split('.').at(-1) ?? ''];
  if (Array.isArray(mine) && Array.isArray(theirs) && key !== undefined) {
    const before = Array.isArray(base) ? (base as Fields[]) : [];
    if ([before, mine as Fields[], theirs as Fields[]].every((entries) => distinct(entries, key)))
      return lists(before, mine as Fields[], theirs as Fields[], key, partId, place, clashes);
  }
  // The script itself is gone through even where I changed nothing: lines that they left alone stay the very same.
  if (same(mine, base) && (partId !== '' || place !== '')) return theirs;
  if (isFields(mine) && isFields(theirs))
    return fields(isFields(base) ? base : {}, mine, theirs, partId, place, clashes);
  clashes.push({ partId, place, kept: theirs, other: mine });
  return theirs;
}

function fields(base: Fields, mine: Fields, theirs: Fields, partId: string, place: string, clashes: Clash[]): Fields {
  const merged: Fields = {};
  for (const name of new Set([...Object.keys(theirs), ...Object.keys(mine)])) {
    const value = both(base[name], mine[name], theirs[name], partId, place === '' ? name : `${place}.${name}`, clashes);
    if (value !== undefined) merged[name] = value;
  }
  return merged;
}

const distinct = (entries: Fields[], key: string): boolean =>
  new Set(entries.map((entry) => entry[key])).size === entries.length;

function lists(
  base: Fields[],
  mine: Fields[],
  theirs: Fields[],
  key: string,
  partId: string,
  place: string,
  clashes: Clash[],
): Fields[] {
  const by = (entries: Fields[]) => new Map(entries.map((entry) => [String(entry[key]), entry]));
  const [b, m, t] = [by(base), by(mine), by(theirs)];
  const merged = new Map<string, Fields>();
  for (const id of new Set([...t.keys(), ...m.keys()])) {
    const [was, my, their] = [b.get(id), m.get(id), t.get(id)];
    const entry = (() => {
      // What one removed and the other left alone is gone; what the other changed stays.
      if (my === undefined) return same(their, was) ? undefined : their;
      if (their === undefined) return same(my, was) ? undefined : my;
      return both(was, my, their, place === 'parts' ? id : partId, place === 'parts' ? '' : `${place}.${id}`, clashes);
    })();
    if (entry !== undefined) merged.set(id, entry as Fields);
  }
  return order([...b.keys()], [...m.keys()], [...t.keys()])
    .map((id) => merged.get(id))
    .filter((entry) => entry !== undefined);
}

/** Their order, with what I moved or added put behind what stands before it in mine. */
function order(base: string[], mine: string[], theirs: string[]): string[] {
  const places = new Map(base.map((id, i) => [id, i]));
  const stayed = longestRising(
    mine.filter((id) => places.has(id)),
    (id) => places.get(id) ?? 0,
  );
  const known = new Set(theirs);
  const put = new Set(mine.filter((id) => (places.has(id) ? !stayed.has(id) : true) || !known.has(id)));
  const result = theirs.filter((id) => !put.has(id));
  mine.forEach((id, i) => {
    if (!put.has(id)) return;
    let at = -1;
    for (let j = i - 1; j >= 0 && at < 0; j -= 1) at = result.indexOf(mine[j] ?? '');
    result.splice(at + 1, 0, id);
  });
  return result;
}

/** A longest subsequence that rises (patience sorting): what need not be moved. */
function longestRising(ids: string[], placeOf: (id: string) => number): Set<string> {
  const ends: string[] = [];
  const before = new Map<string, string | undefined>();
  for (const id of ids) {
    let low = 0;
    let high = ends.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (placeOf(ends[middle] ?? '') < placeOf(id)) low = middle + 1;
      else high = middle;
    }
    before.set(id, ends[low - 1]);
    ends[low] = id;
  }
  const found = new Set<string>();
  for (let id = ends.at(-1); id !== undefined; id = before.get(id)) found.add(id);
  return found;
}
