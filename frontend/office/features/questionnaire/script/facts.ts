// What is so about a line besides its rules, as sentences of the same text: `least 1`, `mask A9`, `sensitive`.
import { t } from '../../../texts/texts';
import type { Part } from './model';

export interface Fact {
  word: string;
  /** The parts of a line that the sentence says, when it is not there. */
  without: (part: Part, tag: string) => Partial<Part>;
  /** What follows the word; null where the line has nothing to say. */
  write: (part: Part, tag: string) => string | null;
  /** The parts of a line that the rest of the sentence says; null where it says nothing that can be understood. */
  read: (rest: string, part: Part, tag: string) => Partial<Part> | null;
}

const SPECIAL: [answer: string, words: RegExp, said: string][] = [
  ['dont_know', /^don['’]t know$/i, t('common.dontKnow')],
  ['refused', /^refused$/i, t('common.refused')],
];

const listed = (rest: string): string[] =>
  rest
    .split(',')
    .map((one) => one.trim())
    .filter((one) => one !== '');

const number = (field: 'least' | 'most'): Omit<Fact, 'word'> => {
  return {
    without: () => ({ [field]: null }),
    write: (part) => (typeof part[field] === 'number' ? String(part[field]) : null),
    read: (rest) => {
      const value = Number(rest.replace(',', '.'));
      return rest === '' || !Number.isFinite(value) ? null : { [field]: value };
    },
  };
};

const text = (
  field: 'code_list' | 'unit' | 'mask' | 'reads_back' | 'register_name' | 'fills' | 'remark',
): Omit<Fact, 'word'> => ({
  without: () => ({ [field]: '' }),
  write: (part) => part[field] || null,
  read: (rest) => (rest === '' ? null : { [field]: rest }),
});

const mark = (on: Partial<Part>, off: Partial<Part>, isOn: (part: Part) => boolean): Omit<Fact, 'word'> => ({
  without: () => off,
  write: (part) => (isOn(part) ? '' : null),
  read: (rest) => (rest === '' ? on : null),
});

/** In the order they are written below the rules. */
export const FACTS: Fact[] = [
  { word: t('sentences.codeList'), ...text('code_list') },
  { word: t('sentences.unit'), ...text('unit') },
  {
    word: t('sentences.special'),
    without: () => ({ special_answers: [] }),
    write: ({ special_answers: held }) =>
      held.length === 0
        ? null
        : SPECIAL.flatMap(([answer, , said]) => (held.includes(answer) ? [said] : [])).join(', '),
    read: (rest) => {
      const found = listed(rest).map((one) => SPECIAL.find(([, words]) => words.test(one))?.[0]);
      const known = found.filter((one) => one !== undefined);
      return known.length === 0 || known.length < found.length ? null : { special_answers: known };
    },
  },
  { word: t('questionnaire.least2'), ...number('least') },
  { word: t('questionnaire.most2'), ...number('most') },
  { word: t('sentences.mask'), ...text('mask') },
  { word: t('sentences.readsBack'), ...text('reads_back') },
  { word: t('sentences.ofRegister'), ...text('register_name') },
  { word: t('sentences.fills'), ...text('fills') },
  { word: t('sentences.randomOrder'), ...mark({ order: 'random' }, { order: '' }, (part) => part.order === 'random') },
  { word: t('sentences.sensitive'), ...mark({ sensitive: true }, { sensitive: false }, (part) => part.sensitive) },
  {
    word: t('sentences.notReadAloud'),
    ...mark({ read_aloud: false }, { read_aloud: true }, (part) => !part.read_aloud),
  },
  {
    word: t('sentences.instruction'),
    without: (part, tag) => ({ instruction: otherTexts(part.instruction, tag) }),
    write: (part, tag) => part.instruction[tag] || null,
    read: (rest, part, tag) => (rest === '' ? null : { instruction: { ...part.instruction, [tag]: rest } }),
  },
  {
    word: t('sentences.media'),
    without: () => ({ media: [] }),
    write: ({ media }) => (media.length === 0 ? null : media.join(', ')),
    read: (rest) => (listed(rest).length === 0 ? null : { media: listed(rest) }),
  },
  { word: t('sentences.remark'), ...text('remark') },
];

/** Texts without the one in a language. */
export const otherTexts = (texts: Part['instruction'], tag: string): Part['instruction'] =>
  Object.fromEntries(Object.entries(texts).filter(([language]) => language !== tag));
