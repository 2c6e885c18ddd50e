// A rule as rows to pick from: a variable, what is said of it, a value. What cannot be shown like that stays as it is
// written, in its place.
import type { Part, Script } from '../script/model';

export interface Row {
  kind: 'row';
  variable: string;
  verb: string;
  value: string;
}

export interface Written {
  kind: 'written';
  text: string;
}

/** Sentences joined by one word throughout. */
export interface Picked {
  join: 'and' | 'or';
  pieces: (Row | Written)[];
}

/** How many values a verb takes: none, one, two joined by and, or a list in brackets. */
export type Takes = 'none' | 'one' | 'two' | 'list';

export interface Verb {
  word: string;
  takes: Takes;
}

const COMPARING: Verb[] = [
  { word: '>=', takes: 'one' },
  { word: '<=', takes: 'one' },
  { word: '>', takes: 'one' },
  { word: '<', takes: 'one' },
  { word: 'between', takes: 'two' },
];
const SAME: Verb[] = [
  { word: 'is', takes: 'one' },
  { word: 'is not', takes: 'one' },
];
const LISTED: Verb[] = [
  { word: 'is one of', takes: 'list' },
  { word: 'is none of', takes: 'list' },
];
const INCLUDING: Verb[] = [
  { word: 'includes', takes: 'one' },
  { word: 'includes any of', takes: 'list' },
  { word: 'includes all of', takes: 'list' },
  { word: 'includes only', takes: 'list' },
];
const STATES: Verb[] = ['is answered', 'is missing', 'is not known', 'is refused', 'was asked'].map((word) => ({
  word,
  takes: 'none',
}));
const ALL: Verb[] = [...STATES, ...LISTED, ...INCLUDING, ...COMPARING, ...SAME].sort(
  (a, b) => b.word.length - a.word.length,
);

/** What can be said of an answer of that kind. */
export function verbsFor(kind: string): Verb[] {
  if (kind === 'single answer') return [...SAME, ...LISTED, ...STATES];
  if (kind === 'multiple answer' || kind === 'ranking') return [...INCLUDING, ...STATES];
  if (kind === 'yes/no' || kind === 'read-back') return [{ word: 'is', takes: 'one' }, ...STATES];
  if (kind === 'text' || kind === 'scanned code') return [...SAME, ...STATES];
  if (['point', 'path', 'area', 'photo', 'audio', 'video', 'file', 'signature'].includes(kind)) return STATES;
  return [...COMPARING, ...SAME, ...STATES];
}

export const takesOf = (word: string): Takes => ALL.find((verb) => verb.word === word)?.takes ?? 'one';

/** The pieces of a rule; a rule that joins by both words, or by neither, is one piece. */
export function pick(text: string, script: Script): Picked {
  const whole = text.trim();
  if (whole === '') return { join: 'and', pieces: [] };
  for (const join of ['and', 'or'] as const) {
    const other = join === 'and' ? 'or' : 'and';
    const pieces = split(whole, join);
    if (pieces.length > 1 && pieces.every((piece) => split(piece, other).length === 1))
      return { join, pieces: pieces.map((piece) => read(piece, script)) };
  }
  return {
    join: 'and',
    pieces: [split(whole, 'and').length > 1 ? { kind: 'written', text: whole } : read(whole, script)],
  };
}

/** The rule that the pieces say. */
export const write = ({ join, pieces }: Picked): string => pieces.map(said).filter(Boolean).join(` ${join} `);

function said(piece: Row | Written): string {
  if (piece.kind === 'written') return piece.text;
  if (piece.variable === '') return '';
  const takes = takesOf(piece.verb);
  const value = takes === 'none' ? '' : takes === 'list' ? ` (${piece.value})` : ` ${piece.value}`;
  return `${piece.variable} ${piece.verb}${value}`;
}

/** Where `word` joins sentences: outside quotes and brackets, and not the and of a range. */
function split(text: string, word: string): string[] {
  // A sentence with an if in it has words of its own.
  if (/(^|\s)(if|then|else)(\s|$)|#/.test(text.replace(/"[^"]*"/g, ''))) return [text];
  const tokens = text.match(/"[^"]*"|[()]|\s+|[^\s()"]+/g) ?? [];
  const pieces = [''];
  let depth = 0;
  let ranges = 0;
  for (const token of tokens) {
    if (token === '(') depth += 1;
    if (token === ')') depth -= 1;
    if (depth === 0 && token === 'between') ranges += 1;
    const endsRange = depth === 0 && token === 'and' && ranges > 0;
    if (endsRange) ranges -= 1;
    if (depth === 0 && token === word && !endsRange) pieces.push('');
    else pieces[pieces.length - 1] = `${pieces.at(-1) ?? ''}${token}`;
  }
  return pieces.map((piece) => piece.trim());
}

const NAME = /^([a-z][a-z0-9_]*)\s+/;

function read(text: string, script: Script): Row | Written {
  const written: Written = { kind: 'written', text };
  const name = NAME.exec(text)?.[1];
  const asked = script.parts.find((part) => part.variable !== '' && part.variable === name);
  if (!asked || name === undefined) return written;
  const rest = text.slice(name.length).trim();
  const verb = ALL.find(({ word }) => rest === word || rest.startsWith(`${word} `) || rest.startsWith(`${word}(`));
  if (!verb || !verbsFor(asked.kind).some(({ word }) => word === verb.word)) return written;
  const value = rest.slice(verb.word.length).trim();
  const listed = /^\(([^()]*)\)$/.exec(value);
  if (verb.takes === 'none' && value !== '') return written;
  if (verb.takes === 'list')
    return listed ? { kind: 'row', variable: name, verb: verb.word, value: (listed[1] ?? '').trim() } : written;
  if (verb.takes === 'two' && !/^\S+ and \S+$/.test(value)) return written;
  if (verb.takes === 'one' && !/^(\S+|"[^"]*")$/.test(value)) return written;
  return { kind: 'row', variable: name, verb: verb.word, value };
}

/** The codes that a row's value may be taken from. */
export const codesOf = (asked: Part | undefined, script: Script) =>
  script.code_lists.find((list) => asked !== undefined && list.name === asked.code_list)?.codes ?? [];

const KEYWORDS = new Set([
  'and',
  'or',
  'not',
  'if',
  'is',
  'yes',
  'no',
  'answered',
  'missing',
  'refused',
  'known',
  'asked',
]);

/** A code as a rule names it: in quotes where it is a word of the language, or no word at all. */
export const asWritten = (code: string): string =>
  /^[A-Za-z_][A-Za-z0-9_]*$|^\d+$/.test(code) && !KEYWORDS.has(code) ? code : `"${code}"`;
