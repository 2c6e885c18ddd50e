import { describe, expect, it } from 'vitest';
import { merge, soundLevels, withClash } from './merge';
import { newCodeList, newPart, type Part, type Script } from './model';

const line = (id: string, more: Partial<Part> = {}): Part => ({ ...newPart(1), id, variable: id, ...more });
const script = (...parts: Part[]): Script => ({
  name: 'q',
  title: { en: 'Wells' },
  languages: ['en'],
  parts,
  code_lists: [],
  unit_lists: [],
  phone_words: {},
  paradata: { device: true, place: false, timing: true, told_by: '' },
});
const ids = (made: { script: Script }) => made.script.parts.map((p) => p.id).join('');
const of = (letters: string) => script(...Array.from(letters, (id) => line(id)));
const code = (name: string, label: string) => ({
  code: name,
  label: { en: label },
  specify: false,
  exclusive: false,
  media: [],
  attributes: {},
});

describe('two who change one script', () => {
  it('keep what each changed in lines of their own', () => {
    const base = of('abc');
    const mine = script(line('a', { wording: { en: 'mine' } }), line('b'), line('c'));
    const theirs = script(line('a'), line('b'), line('c', { asked_when: 'a is yes' }));
    const { script: made, clashes } = merge(base, mine, theirs);
    expect([made.parts[0]?.wording.en, made.parts[2]?.asked_when, clashes]).toEqual(['mine', 'a is yes', []]);
  });

  it('keep what each changed in one line, field by field and language by language', () => {
    const base = script(line('a', { wording: { en: 'old', fr: 'vieux' } }));
    const mine = script(line('a', { wording: { en: 'new', fr: 'vieux' }, sensitive: true }));
    const theirs = script(line('a', { wording: { en: 'old', fr: 'neuf' }, answer_needed: 'yes' }));
    expect(merge(base, mine, theirs).script.parts[0]).toMatchObject({
      wording: { en: 'new', fr: 'neuf' },
      sensitive: true,
      answer_needed: 'yes',
    });
  });

  it('are told where both changed one field, and what is saved stands', () => {
    const base = script(line('a', { wording: { en: 'old' } }));
    const mine = script(line('a', { wording: { en: 'mine' } }));
    const theirs = script(line('a', { wording: { en: 'theirs' } }));
    const made = merge(base, mine, theirs);
    expect(made.script.parts[0]?.wording.en).toBe('theirs');
    expect(made.clashes).toEqual([{ partId: 'a', place: 'wording.en', kept: 'theirs', other: 'mine' }]);
  });

  it('may put their own words back, in a line and in a list', () => {
    const trade = (label: string) => ({
      ...script(line('a', { mask: label })),
      code_lists: [newCodeList('trade', [code('t', label)])],
    });
    const { script: made, clashes } = merge(trade('old'), trade('mine'), trade('theirs'));
    expect(clashes.map((clash) => [clash.partId, clash.place])).toEqual([
      ['a', 'mask'],
      ['', 'code_lists.trade.codes.t.label.en'],
    ]);
    expect(clashes.reduce(withClash, made)).toEqual(trade('mine'));
  });

  it('do not clash where they wrote the same', () => {
    const made = merge(of('a'), script(line('a', { mask: '99' })), script(line('a', { mask: '99' })));
    expect(made.clashes).toEqual([]);
  });

  it.each([
    ['abcd', 'abxcd', 'abcyd', 'abxcyd', 'lines added in two places'],
    ['ab', 'axb', 'ayb', 'axyb', 'lines added in one place'],
    ['abcd', 'bacd', 'abdc', 'badc', 'lines moved at both ends'],
    ['abcd', 'acd', 'abc', 'ac', 'lines removed by each'],
    ['abcd', 'dabc', 'abcd', 'dabc', 'a line moved up by me alone'],
    ['abcd', 'abcd', 'dabc', 'dabc', 'a line moved up by them alone'],
    ['abcd', 'abxcd', 'acd', 'axcd', 'a line added behind one that is gone'],
    ['abcdef', 'fabcde', 'bacdef', 'fbacde', 'moves that have nothing to do with each other'],
    ['', 'x', 'y', 'xy', 'first lines of both'],
  ])('%s: %s and %s make %s (%s)', (base, mine, theirs, expected) => {
    expect(ids(merge(of(base), of(mine), of(theirs)))).toBe(expected);
  });

  it('lose no line that one changed while the other removed it', () => {
    const changed = script(line('a'), line('b', { wording: { en: 'better' } }));
    expect(ids(merge(of('ab'), of('a'), changed))).toBe('ab');
    expect(ids(merge(of('ab'), changed, of('a')))).toBe('ab');
  });

  it('change codes of one list side by side', () => {
    const list = (...codes: ReturnType<typeof code>[]) => ({ ...of('a'), code_lists: [newCodeList('trade', codes)] });
    const base = list(code('t', 'Tailor'), code('s', 'Smith'));
    const mine = list(code('t', 'Tailors'), code('s', 'Smith'), code('c', 'Cook'));
    const theirs = list(code('t', 'Tailor'), code('s', 'Smiths'));
    const [made] = merge(base, mine, theirs).script.code_lists;
    expect(made?.codes.map((c) => c.label.en)).toEqual(['Tailors', 'Smiths', 'Cook']);
  });

  it('leave unchanged lines the very same, so that nothing is drawn again for nothing', () => {
    const base = of('abc');
    const theirs = structuredClone(script(line('a'), line('b'), line('c', { mask: '9' })));
    base.parts.forEach((p, i) => Object.assign(theirs.parts[i] ?? {}, i < 2 ? structuredClone(p) : {}));
    const { script: made } = merge(base, base, theirs);
    expect(made.parts[0]).toBe(base.parts[0]);
    expect(made.parts[2]?.mask).toBe('9');
  });
});

it('a line left without what held it comes to stand where it may', () => {
  const parts = [line('a'), line('b', { level: 3 }), line('s', { kind: 'section' }), line('c', { level: 5 })];
  expect(soundLevels(parts).map((p) => p.level)).toEqual([1, 1, 1, 2]);
});
