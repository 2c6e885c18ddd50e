import { describe, expect, it } from 'vitest';
import { newPart, type Script } from '../script/model';
import { pick, verbsFor, write } from './picking';

const script: Script = {
  name: 'q',
  title: {},
  languages: ['en'],
  parts: (
    [
      ['workers', 'whole number'],
      ['trade', 'single answer'],
      ['tools', 'multiple answer'],
      ['open_now', 'yes/no'],
      ['plate', 'text'],
    ] as const
  ).map(([variable, kind]) => ({ ...newPart(1, kind), id: variable, variable })),
  code_lists: [],
  unit_lists: [],
  phone_words: {},
  paradata: { device: true, place: false, timing: true, told_by: '' },
};
const rows = (text: string) =>
  pick(text, script).pieces.map((p) =>
    p.kind === 'row' ? [p.variable, p.verb, p.value].join(' | ') : `written: ${p.text}`,
  );

describe('a rule in rows', () => {
  it.each([
    ['workers > 3', ['workers | > | 3']],
    ['workers between 1 and 40 and trade is smith', ['workers | between | 1 and 40', 'trade | is | smith']],
    [
      'trade is one of (smith, tailor) or tools includes saw',
      ['trade | is one of | smith, tailor', 'tools | includes | saw'],
    ],
    ['open_now is yes and trade is not smith', ['open_now | is | yes', 'trade | is not | smith']],
    ['plate is "a and b" and workers is answered', ['plate | is | "a and b"', 'workers | is answered | ']],
  ])('%s', (text, expected) => {
    expect(rows(text)).toEqual(expected);
    expect(write(pick(text, script))).toBe(text);
  });

  it.each([
    'any(staff where age < 14)',
    'workers > 3 and trade is smith or open_now is yes',
    '(workers > 3 or open_now is yes) and not trade is smith',
    'if open_now is yes then workers > 3 else yes',
    'workers > paid + 1',
    'workers matches "x"',
    'unheard_of is yes',
    'workers > 3 # and why',
    'tools is smith',
    'workers >',
  ])('what cannot be shown in rows stays as it is written: %s', (text) => {
    expect(pick(text, script).pieces.some((piece) => piece.kind === 'written')).toBe(true);
    expect(write(pick(text, script))).toBe(text);
  });

  it('keeps a written piece between rows in its place', () => {
    const picked = pick('workers > 3 and any(staff where age < 14 and hours > 2) and open_now is no', script);
    expect(picked.pieces.map((p) => p.kind)).toEqual(['row', 'written', 'row']);
    picked.pieces[0] = { kind: 'row', variable: 'workers', verb: '>=', value: '5' };
    expect(write(picked)).toBe('workers >= 5 and any(staff where age < 14 and hours > 2) and open_now is no');
  });

  it('says of a kind only what can be said of it', () => {
    expect(verbsFor('yes/no').map((v) => v.word)).not.toContain('>=');
    expect(verbsFor('photo').map((v) => v.word)).toEqual([
      'is answered',
      'is missing',
      'is not known',
      'is refused',
      'was asked',
    ]);
  });

  it('an empty rule has no rows, and an unfinished row says nothing', () => {
    expect(pick('  ', script).pieces).toEqual([]);
    expect(write({ join: 'or', pieces: [{ kind: 'row', variable: '', verb: 'is', value: '' }] })).toBe('');
  });
});
