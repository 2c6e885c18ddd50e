// The script as the sheet works on it: lines with outline levels, and the edits that keep them sound.
import type { Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';

export type Script = Schemas['Script'];
export type Part = Schemas['Part'];
export type CodeList = Schemas['CodeList'];
export type Code = Schemas['Code'];
export type Finding = Schemas['Finding'];
export type Kind = Schemas['KindOut'];
export type UnitList = Schemas['UnitList'];

/** Units that need no list of their own. */
export const STANDARD_UNITS = ['kg', 'g', 't', 'l', 'ml', 'm3', 'm', 'mm', 'cm', 'km', 'm2', 'ha', 'km2'];

export const MOST_LEVELS = 12;
const CONTAINERS = new Set(['section', 'roster', 'grid']);
const NUMBERED_NOT = new Set(['section', 'roster', 'grid', 'statement', 'derived value', 'carried value']);

export const holdsParts = (part: Part): boolean => CONTAINERS.has(part.kind);

export function newPart(level: number, kind = 'text'): Part {
  return {
    id: crypto.randomUUID(),
    level,
    kind,
    variable: '',
    wording: {},
    instruction: {},
    code_list: '',
    code_filter: '',
    asked_when: '',
    repeated: '',
    derived: '',
    default: '',
    must_hold: [],
    should_hold: [],
    answer_needed: '',
    special_answers: [],
    mask: '',
    unit: '',
    least: null,
    most: null,
    reads_back: '',
    register_name: '',
    fills: '',
    sensitive: false,
    read_aloud: true,
    order: '',
    media: [],
    remark: '',
    origin: '',
  };
}

export const emptyCode = (): Code => ({
  code: '',
  label: {},
  specify: false,
  exclusive: false,
  media: [],
  attributes: {},
});

/** Who uses a list: the lines whose codes come from it. */
export const usersOf = (script: Script, name: string): Part[] => script.parts.filter((p) => p.code_list === name);

export const newCodeList = (name: string, codes: Code[] = []): CodeList => ({ name, codes, source: '', table: null });

/** One past the last line that belongs to the line at `index`. */
export function endOf(parts: Part[], index: number): number {
  const level = parts[index]?.level ?? 1;
  let end = index + 1;
  while (end < parts.length && (parts[end]?.level ?? 0) > level) end += 1;
  return end;
}

/** A new line below: the first inside what can hold it, else beside. Below a folded line it comes behind what is in it. */
export function addBelow(parts: Part[], index: number, folded = false): { parts: Part[]; added: Part } {
  const above = parts[index];
  const level = above === undefined ? 1 : holdsParts(above) && !folded ? above.level + 1 : above.level;
  const added = newPart(level, above === undefined ? 'section' : 'text');
  const at = folded ? endOf(parts, index) : index + 1;
  return { parts: [...parts.slice(0, at), added, ...parts.slice(at)], added };
}

/** A new line on the level of the one it comes before. */
export function addAbove(parts: Part[], index: number): { parts: Part[]; added: Part } {
  const added = newPart(parts[index]?.level ?? 1);
  return { parts: [...parts.slice(0, index), added, ...parts.slice(index)], added };
}

/** Deeper or less deep, with everything inside; deeper only below something that can hold it. */
export function indent(parts: Part[], index: number, by: 1 | -1): Part[] {
  const part = parts[index];
  if (!part) return parts;
  const above = parts[index - 1];
  const most = above === undefined ? 1 : holdsParts(above) ? above.level + 1 : above.level;
  const level = part.level + by;
  if (level < 1 || level > Math.min(most, MOST_LEVELS)) return parts;
  const end = endOf(parts, index);
  return parts.map((p, i) => (i >= index && i < end ? { ...p, level: p.level + by } : p));
}

/** Up or down past the neighbour of the same level, with everything inside. */
export function move(parts: Part[], index: number, by: 1 | -1): Part[] {
  const part = parts[index];
  if (!part) return parts;
  const end = endOf(parts, index);
  const block = parts.slice(index, end);
  if (by === -1) {
    let before = index - 1;
    while (before >= 0 && (parts[before]?.level ?? 0) > part.level) before -= 1;
    if (before < 0 || (parts[before]?.level ?? 0) < part.level) return parts;
    return [...parts.slice(0, before), ...block, ...parts.slice(before, index), ...parts.slice(end)];
  }
  if (end >= parts.length || (parts[end]?.level ?? 0) < part.level) return parts;
  const after = endOf(parts, end);
  return [...parts.slice(0, index), ...parts.slice(end, after), ...block, ...parts.slice(after)];
}

/** The chosen lines that stand inside no other chosen one, by their places. */
function topmost(parts: Part[], chosen: ReadonlySet<string>): number[] {
  const places: number[] = [];
  for (let i = 0; i < parts.length;) {
    const part = parts[i];
    if (part && chosen.has(part.id)) {
      places.push(i);
      i = endOf(parts, i);
    } else i += 1;
  }
  return places;
}

const placeOf = (parts: Part[], id: string | undefined): number => parts.findIndex((p) => p.id === id);

/** The chosen lines with everything inside them. */
export function withInside(parts: Part[], chosen: ReadonlySet<string>): Part[] {
  return topmost(parts, chosen).flatMap((i) => parts.slice(i, endOf(parts, i)));
}

export function removeLines(parts: Part[], chosen: ReadonlySet<string>): Part[] {
  const gone = new Set(withInside(parts, chosen));
  return parts.filter((part) => !gone.has(part));
}

/** All of them deeper or less deep; none where the first may not. */
export function indentLines(parts: Part[], chosen: ReadonlySet<string>, by: 1 | -1): Part[] {
  const places = topmost(parts, chosen);
  const first = places[0];
  if (first === undefined || indent(parts, first, by) === parts) return parts;
  // Outwards from the last, so that what follows a line that moves out does not fall into it.
  return (by === 1 ? places : places.reverse()).reduce((now, i) => indent(now, i, by), parts);
}

/**
 * Up or down past the neighbour of the same level, and from the edge of a section into the next; lines that stand
 * together move together.
 */
export function moveLines(parts: Part[], chosen: ReadonlySet<string>, by: 1 | -1): Part[] {
  const ids = topmost(parts, chosen).map((i) => parts[i]?.id);
  const [first, last] = by === -1 ? [ids[0], undefined] : [undefined, ids.at(-1)];
  const leads = by === -1 ? first : last;
  if (leads === undefined) return parts;
  if (move(parts, placeOf(parts, leads), by) === parts) return moveAcross(parts, chosen, placeOf(parts, leads), by);
  return (by === -1 ? ids : ids.reverse()).reduce((now, id) => move(now, placeOf(now, id), by), parts);
}

/** Out of the section, roster or grid that line `at` stands in, into the one beside it; nothing where none is beside it. */
function moveAcross(parts: Part[], chosen: ReadonlySet<string>, at: number, by: 1 | -1): Part[] {
  const level = parts[at]?.level ?? 1;
  const levelOf = (i: number) => parts[i]?.level ?? 0;
  let holder = at - 1;
  while (holder >= 0 && levelOf(holder) >= level) holder -= 1;
  if (holder < 0 || topmost(parts, chosen).some((i) => levelOf(i) !== level)) return parts;
  let beside = by === 1 ? endOf(parts, holder) : holder - 1;
  while (by === -1 && beside >= 0 && levelOf(beside) > levelOf(holder)) beside -= 1;
  const into = parts[beside];
  if (!into || into.level !== levelOf(holder) || !holdsParts(into)) return parts;
  const moved = withInside(parts, chosen);
  const rest = removeLines(parts, chosen);
  const place = placeOf(rest, into.id);
  const to = by === 1 ? place + 1 : endOf(rest, place);
  return [...rest.slice(0, to), ...moved, ...rest.slice(to)];
}

/** To the end of a section, roster or grid, or to the end of the script, outermost, where `into` is null. */
export function moveInto(parts: Part[], chosen: ReadonlySet<string>, into: string | null): Part[] {
  const moved = withInside(parts, chosen);
  if (moved.some((part) => part.id === into)) return parts;
  const rest = removeLines(parts, chosen);
  const holder = into === null ? -1 : placeOf(rest, into);
  const level = holder < 0 ? 1 : (rest[holder]?.level ?? 0) + 1;
  const at = holder < 0 ? rest.length : endOf(rest, holder);
  let shift = 0;
  const tops = new Set(topmost(parts, chosen).map((i) => parts[i]?.id));
  const placed = moved.map((part) => {
    if (tops.has(part.id)) shift = level - part.level;
    return { ...part, level: Math.min(part.level + shift, MOST_LEVELS) };
  });
  return [...rest.slice(0, at), ...placed, ...rest.slice(at)];
}

/** The same change on every chosen line. */
export const changeLines = (parts: Part[], chosen: ReadonlySet<string>, change: (part: Part) => Part): Part[] =>
  parts.map((part) => (chosen.has(part.id) ? change(part) : part));

/** The number of each line as the enumerator's paper would show it; sections and the like have none. */
export function numbersOf(parts: Part[]): (number | null)[] {
  let number = 0;
  return parts.map((part) => (NUMBERED_NOT.has(part.kind) ? null : (number += 1)));
}

export function answerWords(part: Part, script: Pick<Script, 'code_lists'>): string {
  if (part.mask !== '') return part.mask;
  if (part.unit !== '') return `${part.kind} · ${part.unit}`;
  if (part.reads_back !== '') return `${part.kind} · ${part.reads_back}`;
  if (part.register_name !== '') return `${part.kind} · ${part.register_name}`;
  if (part.code_list === '') return part.kind;
  const list = script.code_lists.find((l) => l.name === part.code_list);
  const specify = list?.codes.some((c) => c.specify) === true;
  const count = (list?.codes.length ?? 0) - (specify ? 1 : 0);
  const many =
    part.kind === 'multiple answer' ? '☑ ' : part.kind === 'ranking' ? '⇅ ' : part.kind === 'grid' ? '▦ ' : '';
  const codes = `${many}${part.code_list} · ${String(count)}`;
  return specify ? t('questionnaire.codesAndOther', { codes }) : codes;
}

/** The rule that decides whether a line is asked: its own, or that of the nearest section or roster around it. */
export function conditionOf(parts: Part[], part: Part | undefined): string {
  if (!part) return '';
  if (part.asked_when !== '') return part.asked_when;
  let level = part.level;
  for (let i = parts.indexOf(part) - 1; i >= 0 && level > 1; i -= 1) {
    const above = parts[i];
    if (!above || above.level >= level) continue;
    level = above.level;
    if (above.asked_when !== '') return above.asked_when;
  }
  return '';
}

/** Variables that a rule's text names. */
export const namesIn = (text: string): string[] => text.replace(/"[^"]*"/g, '').match(/[a-z][a-z0-9_]*/g) ?? [];

/** All rule texts of a line. */
export const ruleTexts = (part: Part): string[] => [
  part.asked_when,
  part.repeated,
  part.derived,
  part.code_filter,
  part.default,
  part.answer_needed,
  ...part.must_hold.map((c) => c.rule),
  ...part.should_hold.map((c) => c.rule),
];

/** The modules that lines of a script were taken from. */
export const modulesIn = (script: Script): string[] => [
  ...new Set(script.parts.flatMap((part) => (part.origin === '' ? [] : (part.origin.split('/')[0] ?? [])))),
];
