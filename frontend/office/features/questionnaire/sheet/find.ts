// Finding over everything that is written in a script, and replacing what was found.
import type { Part, Script } from '../script/model';
import { rulesOf } from '../script/sentences';

export type Where = 'wording' | 'variable' | 'rule' | 'text';
export const WHERE: Where[] = ['wording', 'variable', 'rule', 'text'];

/** A field of a line that holds what is looked for, `count` times. */
export interface Found {
  partId: string;
  where: Where;
  field: string;
  text: string;
  count: number;
}

export interface Wanted {
  text: string;
  where: ReadonlySet<Where>;
  exact: boolean;
}

/** Every place of a script, in the order of its lines. */
export function findIn(script: Script, wanted: Wanted): Found[] {
  if (wanted.text === '') return [];
  return script.parts.flatMap((part) =>
    fieldsOf(part)
      .filter((field) => wanted.where.has(field.where))
      .map((field) => ({ partId: part.id, ...field, count: field.text.split(patternOf(wanted)).length - 1 }))
      .filter((found) => found.count > 0),
  );
}

/** Without `exact`, capitals and small letters are alike. */
export function patternOf({ text, exact }: Wanted): RegExp {
  return new RegExp(text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'), exact ? 'gu' : 'giu');
}

interface Field {
  where: Where;
  field: string;
  text: string;
}

function fieldsOf(part: Part): Field[] {
  const texts = (where: Where, name: string, by: Record<string, string>) =>
    Object.entries(by).map(([tag, text]) => ({ where, field: `${name}.${tag}`, text }));
  const messages = (name: 'must_hold' | 'should_hold') =>
    part[name].flatMap((check, i) => texts('text', `${name}.${String(i)}.message`, check.message));
  return [
    { where: 'variable', field: 'variable', text: part.variable },
    ...texts('wording', 'wording', part.wording),
    ...rulesOf(part).map((rule): Field => ({ where: 'rule', field: rule.place, text: rule.text })),
    ...texts('text', 'instruction', part.instruction),
    ...messages('must_hold'),
    ...messages('should_hold'),
    { where: 'text', field: 'remark', text: part.remark },
  ];
}

/** The script with what was found replaced; variables are left to renaming, which other lines follow. */
export function replaceIn(script: Script, found: Found[], wanted: Wanted, by: string): Script {
  const fields = new Map<string, string[]>();
  for (const place of found)
    if (place.where !== 'variable') fields.set(place.partId, [...(fields.get(place.partId) ?? []), place.field]);
  // A function, so that `$` in what is put in stands for itself.
  const swap = (text: string) => text.replace(patternOf(wanted), () => by);
  return {
    ...script,
    parts: script.parts.map((part) =>
      (fields.get(part.id) ?? []).reduce((now: Part, field) => changed(now, field.split('.'), swap) as Part, part),
    ),
  };
}

function changed(value: unknown, path: string[], swap: (text: string) => string): unknown {
  const [first, ...rest] = path;
  if (first === undefined) return typeof value === 'string' ? swap(value) : value;
  if (Array.isArray(value))
    return value.map((entry: unknown, i) => (String(i) === first ? changed(entry, rest, swap) : entry));
  const fields = value as Record<string, unknown>;
  return { ...fields, [first]: changed(fields[first], rest, swap) };
}

/** The new variables of the lines whose variable was found, by their identity. */
export function renamedBy(found: Found[], wanted: Wanted, by: string): Record<string, string> {
  return Object.fromEntries(
    found
      .filter((place) => place.where === 'variable')
      .map((place) => [place.partId, place.text.replace(patternOf(wanted), () => by)]),
  );
}
