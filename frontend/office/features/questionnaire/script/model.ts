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
    sensitive: false,
    read_aloud: true,
    order: '',
    media: [],
    remark: '',
  };
}

/** One past the last line that belongs to the line at `index`. */
export function endOf(parts: Part[], index: number): number {
  const level = parts[index]?.level ?? 1;
  let end = index + 1;
  while (end < parts.length && (parts[end]?.level ?? 0) > level) end += 1;
  return end;
}

export function addBelow(parts: Part[], index: number): { parts: Part[]; added: Part } {
  const above = parts[index];
  const level = above === undefined ? 1 : holdsParts(above) ? above.level + 1 : above.level;
  const added = newPart(level, above === undefined ? 'section' : 'text');
  return { parts: [...parts.slice(0, index + 1), added, ...parts.slice(index + 1)], added };
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

export function removeLine(parts: Part[], index: number): Part[] {
  return [...parts.slice(0, index), ...parts.slice(endOf(parts, index))];
}

export function duplicate(parts: Part[], index: number): { parts: Part[]; added: Part } | null {
  const part = parts[index];
  if (!part) return null;
  const names = new Set(parts.map((p) => p.variable));
  let number = 2;
  while (names.has(`${part.variable}_${String(number)}`)) number += 1;
  const added = {
    ...structuredClone(part),
    id: crypto.randomUUID(),
    variable: part.variable === '' ? '' : `${part.variable}_${String(number)}`,
  };
  const end = endOf(parts, index);
  return { parts: [...parts.slice(0, end), added, ...parts.slice(end)], added };
}

/** The number of each line as the enumerator's paper would show it; sections and the like have none. */
export function numbersOf(parts: Part[]): (number | null)[] {
  let number = 0;
  return parts.map((part) => (NUMBERED_NOT.has(part.kind) ? null : (number += 1)));
}

export interface RuleLine {
  word: string;
  tone: 'must' | 'should' | 'flow';
  text: string;
  field: string;
}

/** The rules of a line as sentences, in the order they matter. */
export function rulesOf(part: Part): RuleLine[] {
  const lines: RuleLine[] = [];
  const flow = (word: string, text: string, field: string) => {
    if (text !== '') lines.push({ word, tone: 'flow', text, field });
  };
  flow(t('questionnaire.flowRepeated'), part.repeated, 'repeated');
  flow(t('questionnaire.flowDerived'), part.derived, 'derived');
  flow(t('questionnaire.flowAskedWhen'), part.asked_when, 'asked_when');
  flow(t('questionnaire.flowCodesWhere'), part.code_filter, 'code_filter');
  flow(t('questionnaire.flowDefault'), part.default, 'default');
  if (part.answer_needed !== '' && part.answer_needed !== 'no')
    lines.push({
      word: t('questionnaire.answerNeeded'),
      tone: 'must',
      text: part.answer_needed,
      field: 'answer_needed',
    });
  part.must_hold.forEach((check, i) =>
    lines.push({ word: t('common.mustHold'), tone: 'must', text: check.rule, field: `must_hold.${String(i)}.rule` }),
  );
  part.should_hold.forEach((check, i) =>
    lines.push({
      word: t('common.shouldHold'),
      tone: 'should',
      text: check.rule,
      field: `should_hold.${String(i)}.rule`,
    }),
  );
  return lines;
}

export function answerWords(part: Part, script: Script): string {
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
