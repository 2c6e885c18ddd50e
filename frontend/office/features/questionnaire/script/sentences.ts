// The rules of a line as one text, a sentence a line: `must hold age < 120`. What is typed there goes back to its fields.
import { t } from '../../../texts/texts';
import type { Part } from './model';

type Single = 'repeated' | 'derived' | 'asked_when' | 'code_filter' | 'default' | 'answer_needed';
type Many = 'must_hold' | 'should_hold';
export type RuleField = Single | Many;

export interface Sentence {
  field: RuleField;
  word: string;
  tone: 'must' | 'should' | 'flow';
}

/** In the order they matter. */
export const SENTENCES: Sentence[] = [
  { field: 'repeated', word: t('questionnaire.flowRepeated'), tone: 'flow' },
  { field: 'derived', word: t('questionnaire.flowDerived'), tone: 'flow' },
  { field: 'asked_when', word: t('questionnaire.flowAskedWhen'), tone: 'flow' },
  { field: 'code_filter', word: t('questionnaire.flowCodesWhere'), tone: 'flow' },
  { field: 'default', word: t('questionnaire.flowDefault'), tone: 'flow' },
  { field: 'answer_needed', word: t('questionnaire.answerNeeded'), tone: 'must' },
  { field: 'must_hold', word: t('common.mustHold'), tone: 'must' },
  { field: 'should_hold', word: t('common.shouldHold'), tone: 'should' },
];

export interface RuleLine extends Sentence {
  /** The field with its number, as findings name it: `must_hold.0.rule`. */
  place: string;
  text: string;
}

const isMany = (field: RuleField): field is Many => field === 'must_hold' || field === 'should_hold';

/** The rules of a line as sentences. */
export function rulesOf(part: Part): RuleLine[] {
  return SENTENCES.flatMap((sentence): RuleLine[] => {
    const { field } = sentence;
    if (isMany(field))
      return part[field].map((check, i) => ({ ...sentence, place: `${field}.${String(i)}.rule`, text: check.rule }));
    const text = part[field];
    return text === '' || (field === 'answer_needed' && text === 'no') ? [] : [{ ...sentence, place: field, text }];
  });
}

/** All rules as a text, one below the other; a rule of several lines goes on with blanks before it. */
export const writeSentences = (part: Part): string =>
  rulesOf(part)
    .map((rule) => `${rule.word} ${rule.text.replace(/\n/g, '\n  ')}`)
    .join('\n');

export interface ReadSentence {
  sentence: Sentence;
  rule: string;
  /** Where the rule begins in the text. */
  start: number;
}

/** The sentences of a text; `stray` are lines that begin with no word of a rule, by their places. */
export function readSentences(text: string): { read: ReadSentence[]; stray: { start: number; text: string }[] } {
  const read: ReadSentence[] = [];
  const stray: { start: number; text: string }[] = [];
  let at = 0;
  for (const line of text.split('\n')) {
    const sentence = SENTENCES.find((s) => startsWith(line, s.word));
    const last = read.at(-1);
    if (sentence) {
      const rest = line.slice(line.indexOf(sentence.word) + sentence.word.length);
      const rule = rest.trimStart();
      read.push({ sentence, rule: rule.trimEnd(), start: at + line.length - rule.length });
    } else if (last && /^\s+\S/.test(line)) last.rule = `${last.rule}\n${line.replace(/^ {1,2}/, '')}`;
    else if (line.trim() !== '') stray.push({ start: at, text: line });
    at += line.length + 1;
  }
  return { read, stray };
}

const startsWith = (line: string, word: string): boolean =>
  line.trimStart().startsWith(word) && !/\w/.test(line.trimStart().charAt(word.length));

/** The line with its rules as the text says them. A check keeps its message where its rule stayed, or its place did. */
export function applySentences(part: Part, text: string): Part {
  const { read } = readSentences(text);
  const rules = (field: RuleField) => read.filter((r) => r.sentence.field === field).map((r) => r.rule);
  const changed = { ...part };
  for (const { field } of SENTENCES) {
    if (isMany(field)) {
      const free = [...part[field]];
      const wanted = rules(field);
      const kept = wanted.map((rule) => {
        const i = free.findIndex((check) => check.rule === rule);
        return i < 0 ? undefined : free.splice(i, 1)[0];
      });
      changed[field] = wanted.map((rule, i) => kept[i] ?? { message: {}, ...free.shift(), rule });
    } else {
      const written = rules(field);
      const rule = written.at(-1) ?? '';
      changed[field] = field === 'answer_needed' && written.length > 0 && rule === '' ? 'yes' : rule;
      if (field === 'answer_needed' && written.length === 0 && part.answer_needed === 'no') changed[field] = 'no';
    }
  }
  return changed;
}
