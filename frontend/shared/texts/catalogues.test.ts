import { describe, expect, it } from 'vitest';
import answerAr from '../../answer/texts/answer.ar.json';
import answerEn from '../../answer/texts/answer.en.json';
import answerFr from '../../answer/texts/answer.fr.json';
import fieldAr from '../../field/texts/field.ar.json';
import fieldEn from '../../field/texts/field.en.json';
import fieldFr from '../../field/texts/field.fr.json';
import { fieldTextsIn } from '../../field/texts/texts';
import ar from '../../../src/skavo/core/interview/words/interview.ar.json';
import officeEn from '../../office/texts/office.en.json';
import en from '../../../src/skavo/core/interview/words/interview.en.json';
import fr from '../../../src/skavo/core/interview/words/interview.fr.json';

type Texts = Record<string, string>;
const placeholders = (text: string) => (text.match(/\{\{\w+\}\}/g) ?? []).sort();

describe.each([
  ['interview, French', en, fr],
  ['interview, Arabic', en, ar],
  ['phone, French', fieldEn, fieldFr],
  ['phone, Arabic', fieldEn, fieldAr],
  ['link, French', answerEn, answerFr],
  ['link, Arabic', answerEn, answerAr],
] as [string, Texts, Texts][])('%s', (_name, english, other) => {
  it('has every text, none of them empty, and no other', () => {
    expect(Object.keys(other).sort()).toEqual(Object.keys(english).sort());
    expect(Object.values(other).filter((text) => text.trim() === '')).toEqual([]);
  });

  it.each(Object.keys(english))('fills the same into %s', (key) => {
    expect(placeholders(other[key] ?? '')).toEqual(placeholders(english[key] ?? ''));
  });
});

it('gives English where a language is not spoken', () => {
  expect(fieldTextsIn('sw')('today')).toBe('Today');
  expect(fieldTextsIn('fr')('left', { count: 3 })).toBe('encore 3');
});

describe('the words of the desk', () => {
  const sources = Object.entries(
    import.meta.glob<string>('../../office/**/*.{ts,tsx}', { query: '?raw', import: 'default', eager: true }),
  )
    .map(([, source]) => source)
    .join('\n');
  const keys = Object.keys(officeEn).map((key) => key.replace(/_(zero|one|other)$/, ''));

  it('hold none that no page uses', () => {
    expect(keys.filter((key) => !sources.includes(`'${key}'`) && !sources.includes(`"${key}"`))).toEqual([]);
  });

  it('have a form for one where they have one for many', () => {
    const texts: Texts = officeEn;
    expect(
      Object.keys(texts).filter((key) => key.endsWith('_other') && !(key.replace(/_other$/, '_one') in texts)),
    ).toEqual([]);
  });

  it('name no tag that HTML takes for empty: its words would fall out of it', () => {
    const empty = /<(area|base|br|col|embed|hr|img|input|link|meta|param|source|track|wbr)>/;
    expect(Object.values(officeEn).filter((text) => empty.test(text))).toEqual([]);
  });
});
