import { describe, expect, it } from 'vitest';
import { newCodeList, newPart, type Kind, type Script } from '../script/model';
import { choicesFor, codesOf } from './answers';

const kind = (name: string, glyph: string): Kind => ({
  name,
  glyph,
  type: '',
  uses_codes: false,
  holds_parts: false,
  takes_answer: true,
  derives: false,
  numbered: true,
});
const KINDS = [
  kind('section', '§'),
  kind('text', 'T'),
  kind('single answer', '◎'),
  kind('multiple answer', '☑'),
  kind('quantity', '⚖'),
];
const script: Script = {
  name: 'q',
  title: {},
  languages: ['fr', 'en'],
  parts: [{ ...newPart(1), id: 'a', variable: 'trade' }],
  code_lists: [newCodeList('island')],
  unit_lists: [{ name: 'sacks', units: [] }],
  phone_words: {},
  paradata: { device: true, place: false, timing: true, told_by: '' },
};
const keys = (typed: string) => choicesFor(typed, script, KINDS).map((choice) => choice.key);
const taken = (typed: string, at = 0) => choicesFor(typed, script, KINDS)[at]?.take(script, 'a');

describe('the answer of a line', () => {
  it('is found by what it begins with first, then by any part', () => {
    expect(keys('te')[0]).toBe('text');
    expect(keys('isl')).toEqual(['single answer island', 'multiple answer island']);
    expect(keys('sack')).toEqual(['quantity sacks']);
    expect(keys('mult isl')).toEqual(['multiple answer island']);
    expect(keys('nothing like it')).toEqual([]);
  });

  it('puts kind, list or unit on its line and on no other', () => {
    expect(taken('single isl')?.parts[0]).toMatchObject({ kind: 'single answer', code_list: 'island' });
    expect(taken('sack')?.parts[0]).toMatchObject({ kind: 'quantity', unit: 'sacks' });
  });

  it('may be written out: the labels become a list of their own', () => {
    const made = taken('Tailor; Smith; Other trade');
    expect(made?.parts[0]).toMatchObject({ kind: 'single answer', code_list: 'trade' });
    expect(made?.code_lists[1]?.codes.map((c) => [c.code, c.label.fr, c.specify])).toEqual([
      ['tailor', 'Tailor', false],
      ['smith', 'Smith', false],
      ['other_trade', 'Other trade', true],
    ]);
    expect([0, 1, 2, 3].map((at) => taken('a;b', at)?.parts[0]?.kind)).toEqual([
      'single answer',
      'multiple answer',
      'ranking',
      'grid',
    ]);
  });

  it('may be written out with codes, and none of them goes alone where there may be several', () => {
    const made = (at: number) => taken('vice = Bench vice; 2 = Power drill; none = None of these', at)?.code_lists[1];
    expect(made(1)?.codes.map((c) => [c.code, c.label.fr, c.exclusive])).toEqual([
      ['vice', 'Bench vice', false],
      ['2', 'Power drill', false],
      ['none', 'None of these', true],
    ]);
    expect(made(0)?.codes.some((c) => c.exclusive)).toBe(false);
  });

  it('gives every label a code of its own, whatever its script', () => {
    expect(codesOf(['Été', 'Ete', 'نعم', '!'], 'fr').map((c) => c.code)).toEqual(['ete', 'ete_2', '3', '4']);
    expect(codesOf(['Otherwise'], 'en')[0]?.specify).toBe(false);
  });
});
