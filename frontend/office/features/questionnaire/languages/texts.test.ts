import { expect, it } from 'vitest';
import { emptyCode, newCodeList, newPart, type Script } from '../script/model';
import { sourceOf, stateOf, textsOf, withSourceLabels, withText, withoutLanguage } from './texts';

const script: Script = {
  name: 'q',
  title: { en: 'Title' },
  languages: ['en', 'sw'],
  parts: [
    {
      ...newPart(1),
      id: 'p/1',
      variable: 'age',
      wording: { en: 'How old is {name}?', sw: 'Umri?' },
      must_hold: [{ rule: 'age > 3', message: { en: 'No.' } }],
    },
  ],
  code_lists: [newCodeList('trade', [{ ...emptyCode(), code: 'a/b', label: { en: 'A', sw: 'Ah' } }])],
  unit_lists: [{ name: 'sacks', units: [{ unit: 'sack', dimension: 'mass', factor: '1', label: { en: 'Sack' } }] }],
  phone_words: {},
  paradata: { device: true, place: false, timing: true, told_by: '' },
};
const plain = { ...script, parts: script.parts.map((p) => ({ ...p, id: 'p1' })) };
const words = [{ key: 'interview.next', texts: { en: 'Next', fr: 'Suivant' } }];

it('lists every text that somebody reads, the phone’s own where it does not speak a language', () => {
  expect(textsOf(plain, words).map((text) => [text.key, text.texts.sw ?? ''])).toEqual([
    ['title', ''],
    ['part/p1/wording', 'Umri?'],
    ['part/p1/must_hold.0.message', ''],
    ['code/trade/a/b', 'Ah'],
    ['unit/sacks/sack', ''],
    ['phone/interview.next', ''],
  ]);
  expect(textsOf({ ...plain, languages: ['en', 'fr'] }, words).at(-1)?.key).toBe('unit/sacks/sack');
});

it('sets each of them where it stands', () => {
  const after = textsOf(plain, words).reduce((now, text) => withText(now, text.key, 'sw', `<${text.key}>`), plain);
  expect(textsOf(after, words).map((text) => text.texts.sw)).toEqual(textsOf(plain, words).map((t) => `<${t.key}>`));
  expect(withText(plain, 'part/gone/wording', 'sw', 'x').parts).toEqual(plain.parts);
});

it('tells how far a translation is', () => {
  const [title, wording] = textsOf(plain, words);
  if (!title || !wording) throw new Error('texts are missing');
  expect(stateOf(title, 'en', 'sw', {})).toBe('missing');
  expect(stateOf(wording, 'en', 'sw', {})).toBe('values');
  const right = { ...wording, texts: { ...wording.texts, sw: '{ name } umri?' } };
  expect(stateOf(right, 'en', 'sw', {})).toBe('done');
  expect(stateOf(right, 'en', 'sw', { [right.key]: { sw: 'Old?' } })).toBe('outdated');
  expect(sourceOf({ ...plain, languages: ['fr', 'en'] }, 'phone/interview.next')).toBe('en');
});

it('takes labels over where there are none', () => {
  const filled = withSourceLabels({ ...plain, languages: ['en', 'fr', 'sw'] }, 'fr');
  expect(filled.code_lists[0]?.codes[0]?.label).toEqual({ en: 'A', sw: 'Ah', fr: 'A' });
  expect(withSourceLabels(plain, 'sw').code_lists[0]?.codes[0]?.label.sw).toBe('Ah');
});

it('takes a language out with all that is in it', () => {
  const less = withoutLanguage(withText(plain, 'phone/interview.next', 'sw', 'Mbele'), 'sw');
  expect(JSON.stringify(less)).not.toMatch(/"sw"|Umri|Ah"/);
  expect(less.parts[0]?.wording).toEqual({ en: 'How old is {name}?' });
});
