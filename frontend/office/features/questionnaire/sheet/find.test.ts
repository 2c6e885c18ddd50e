import { expect, it } from 'vitest';
import { newPart, type Script } from '../script/model';
import { findIn, renamedBy, replaceIn, WHERE, type Wanted } from './find';

const script: Script = {
  name: 'q',
  title: {},
  languages: ['en', 'fr'],
  parts: [
    {
      ...newPart(1),
      id: 'a',
      variable: 'worker',
      wording: { en: 'The worker, a Worker?', fr: 'Le travailleur' },
      asked_when: 'worker > 1',
      must_hold: [
        { rule: 'worker < 9', message: { en: 'Too many (worker).' } },
        { rule: 'x > 1', message: {} },
      ],
    },
    { ...newPart(1), id: 'b', variable: 'other', remark: 'ask a worker' },
  ],
  code_lists: [],
  unit_lists: [],
  phone_words: {},
  paradata: { device: true, place: false, timing: true, told_by: '' },
};
const wanted = (text: string, more: Partial<Wanted> = {}): Wanted => ({
  text,
  where: new Set(WHERE),
  exact: false,
  ...more,
});

it('finds in wordings, variables, rules, messages and remarks, in the order of lines', () => {
  expect(findIn(script, wanted('worker')).map((f) => [f.partId, f.field, f.count])).toEqual([
    ['a', 'variable', 1],
    ['a', 'wording.en', 2],
    ['a', 'asked_when', 1],
    ['a', 'must_hold.0.rule', 1],
    ['a', 'must_hold.0.message.en', 1],
    ['b', 'remark', 1],
  ]);
  expect(findIn(script, wanted('Worker', { exact: true })).map((f) => f.field)).toEqual(['wording.en']);
  expect(findIn(script, wanted('worker', { where: new Set(['rule']) })).length).toBe(2);
  expect(findIn(script, wanted(''))).toEqual([]);
});

it('takes signs for themselves, in what is looked for and in what is put there', () => {
  expect(findIn(script, wanted('(worker).')).map((f) => f.field)).toEqual(['must_hold.0.message.en']);
  const made = replaceIn(script, findIn(script, wanted('(worker)')), wanted('(worker)'), '$&$1');
  expect(made.parts[0]?.must_hold[0]?.message.en).toBe('Too many $&$1.');
});

it('replaces in the places found and in no other, and leaves variables to renaming', () => {
  const want = wanted('worker');
  const found = findIn(script, want);
  const made = replaceIn(
    script,
    found.filter((f) => f.where !== 'text'),
    want,
    'hand',
  );
  expect(made.parts[0]).toMatchObject({
    variable: 'worker',
    wording: { en: 'The hand, a hand?', fr: 'Le travailleur' },
    asked_when: 'hand > 1',
    must_hold: [
      { rule: 'hand < 9', message: { en: 'Too many (worker).' } },
      { rule: 'x > 1', message: {} },
    ],
  });
  expect(made.parts[1]).toBe(script.parts[1]);
  expect(renamedBy(found, want, 'hand')).toEqual({ a: 'hand' });
});
