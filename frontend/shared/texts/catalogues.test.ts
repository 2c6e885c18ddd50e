import { describe, expect, it } from 'vitest';
import fieldAr from '../../field/texts/field.ar.json';
import fieldEn from '../../field/texts/field.en.json';
import fieldFr from '../../field/texts/field.fr.json';
import { fieldTextsIn } from '../../field/texts/texts';
import ar from './interview.ar.json';
import en from './interview.en.json';
import fr from './interview.fr.json';

type Texts = Record<string, string>;
const placeholders = (text: string) => (text.match(/\{\{\w+\}\}/g) ?? []).sort();

describe.each([
  ['interview, French', en, fr],
  ['interview, Arabic', en, ar],
  ['phone, French', fieldEn, fieldFr],
  ['phone, Arabic', fieldEn, fieldAr],
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
