// A line as one text, a sentence a row: its rules, what to say where they are broken, and its facts. What is typed there
// goes back to its fields.
import { t } from '../../../texts/texts';
import { FACTS, otherTexts, type Fact } from './facts';
import { newPart, type Part } from './model';

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

/** What is said where the check above it is broken. */
export const SAYS = t('sentences.says');

/** Before rows that go on with a text: whatever words they begin with, they are no sentence of their own. */
const GOES_ON = '    ';
const goingOn = (row: string): string => row.replace(/^ {1,4}/, '');
const written = (text: string): string => text.trim().replace(/\n/g, `\n${GOES_ON}`);

/** All of it as a text, one below the other, in the language `tag`; a rule of several rows goes on with blanks before it. */
export const writeSentences = (part: Part, tag: string): string =>
  [
    ...rulesOf(part).flatMap((rule) => {
      const row = `${rule.word} ${rule.text.replace(/\n/g, '\n  ')}`;
      const said = messageAt(part, rule.place, tag);
      return said === '' ? [row] : [row, `  ${SAYS} ${written(said)}`];
    }),
    ...FACTS.flatMap((fact) => {
      const rest = fact.write(part, tag);
      return rest === null ? [] : [`${fact.word} ${written(rest)}`.trimEnd()];
    }),
  ].join('\n');

function messageAt(part: Part, place: string, tag: string): string {
  const [field, number] = place.split('.');
  const checks = field === 'must_hold' || field === 'should_hold' ? part[field] : [];
  return checks[Number(number)]?.message[tag] ?? '';
}

export interface ReadSentence {
  sentence: Sentence;
  rule: string;
  /** Where the rule begins in the text. */
  start: number;
  said: string;
}

interface Read {
  read: ReadSentence[];
  facts: { fact: Fact; rest: string }[];
  /** Rows that begin with no word of a sentence, or say nothing that can be understood. */
  stray: { start: number; text: string }[];
}

/** The sentences of a text by their places; a row that begins with blanks and no word goes on with the one above. */
export function readSentences(text: string): Read {
  const found: Read = { read: [], facts: [], stray: [] };
  let goOn: ((row: string) => void) | null = null;
  let at = 0;
  for (const row of text.split('\n')) {
    if (goOn && row.startsWith(GOES_ON)) goOn(row);
    else if (row.trim() !== '') {
      const begun = readRow(row, at, found);
      if (begun) goOn = begun;
      else if (goOn && /^\s+\S/.test(row)) goOn(row);
      else found.stray.push({ start: at, text: row });
    }
    at += row.length + 1;
  }
  return found;
}

/** Takes up a row that begins with the word of a sentence; the answer takes up the rows that go on with it. */
function readRow(row: string, at: number, { read, facts }: Read): ((more: string) => void) | null {
  const last = read.at(-1);
  if (last && isMany(last.sentence.field) && startsWith(row, SAYS)) {
    last.said = after(row, SAYS).trim();
    return (more) => (last.said += `\n${goingOn(more)}`);
  }
  const sentence = SENTENCES.find((s) => startsWith(row, s.word));
  if (sentence) {
    const rule = after(row, sentence.word).trimStart();
    const begun = { sentence, rule: rule.trimEnd(), start: at + row.length - rule.length, said: '' };
    read.push(begun);
    return (more) => (begun.rule += `\n${more.replace(/^ {1,2}/, '')}`);
  }
  const fact = FACTS.find((f) => startsWith(row, f.word));
  const rest = fact ? after(row, fact.word).trim() : '';
  if (!fact || fact.read(rest, NOTHING, '') === null) return null;
  const begun = { fact, rest };
  facts.push(begun);
  return (more) => (begun.rest += `\n${goingOn(more)}`);
}

const NOTHING = newPart(1);

const after = (row: string, word: string): string => row.slice(row.indexOf(word) + word.length);

const startsWith = (row: string, word: string): boolean =>
  row.trimStart().startsWith(word) && !/\w/.test(row.trimStart().charAt(word.length));

/** The line as the text says it. A check keeps its messages in other languages where its rule stayed, or its place did. */
export function applySentences(part: Part, text: string, tag: string): Part {
  const { read, facts } = readSentences(text);
  let changed = { ...part };
  for (const { field } of SENTENCES) {
    const written = read.filter((r) => r.sentence.field === field);
    if (isMany(field)) {
      const free = [...part[field]];
      const kept = written.map(({ rule }) => {
        const i = free.findIndex((check) => check.rule === rule);
        return i < 0 ? undefined : free.splice(i, 1)[0];
      });
      changed[field] = written.map(({ rule, said }, i) => {
        const others = otherTexts((kept[i] ?? free.shift())?.message ?? {}, tag);
        return { rule, message: said === '' ? others : { ...others, [tag]: said } };
      });
    } else {
      const rule = written.at(-1)?.rule ?? '';
      changed[field] = field === 'answer_needed' && written.length > 0 && rule === '' ? 'yes' : rule;
      if (field === 'answer_needed' && written.length === 0 && part.answer_needed === 'no') changed[field] = 'no';
    }
  }
  for (const fact of FACTS) {
    const said = facts.filter((f) => f.fact === fact).at(-1);
    changed = { ...changed, ...((said && fact.read(said.rest, part, tag)) ?? fact.without(part, tag)) };
  }
  return changed;
}
