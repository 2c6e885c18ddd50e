import { describe, expect, it } from 'vitest';
import type { Screen } from '../../../../shared/engine/types';
import { clockAt, momentAt } from '../../../ui/moments';
import { dateOf, isWhole, meaningOf, readTyped, timeOf, typedOf } from './keyed';

const ZONE = 'Etc/GMT+8';

function screen(kind: string, more: Partial<Screen> = {}): Screen {
  const empty = {
    path: 'asked',
    variable: 'asked',
    kind,
    codes: [],
    codes_left: 0,
    units: [],
    mask: '',
    special: null,
    special_allowed: [],
    reads_back: null,
    value: null,
  };
  return { ...empty, ...more } as unknown as Screen;
}

const codes = (...named: [string, string][]) =>
  named.map(([code, label]) => ({ code, label, exclusive: false, media: [] }));
const numbered = codes(['1', 'Kesk'], ['2', 'Luma'], ['12', 'Tarrow']);
const named = codes(['harbour', 'Harbour'], ['hill', 'Hill'], ['inland', 'Inland']);
const nobody = () => Promise.resolve({ codes: [], more: 0 });
const read = (asked: Screen, typed: string) => readTyped(asked, typed, nobody, ZONE);

describe('dates and times', () => {
  it.each([
    ['14032027', '2027-03-14'],
    ['140327', '2027-03-14'],
    ['14.3.2027', '2027-03-14'],
    ['4/3/27', '2027-03-04'],
    ['2027-03-14', '2027-03-14'],
    ['31022027', null],
    ['1403', null],
    ['soon', null],
  ])('%s is %s', (typed, date) => {
    expect(dateOf(typed)).toBe(date);
  });

  it.each([
    ['0930', '09:30'],
    ['930', '09:30'],
    ['9:30', '09:30'],
    ['2400', null],
    ['0960', null],
  ])('%s is %s', (typed, time) => {
    expect(timeOf(typed)).toBe(time);
  });

  it('takes a moment by the clock of the study, and shows it so', async () => {
    expect(await read(screen('date-time'), '24112026 0930')).toEqual({ value: '2026-11-24T17:30:00.000Z' });
    expect(typedOf(screen('date-time', { value: '2026-11-24T17:30:00.000Z' }), ZONE)).toBe('2026-11-24 09:30');
    expect(await read(screen('date-time'), '2026-11-24 09:30')).toEqual({ value: '2026-11-24T17:30:00.000Z' });
  });

  it('goes to and from the clock of a zone where that is set forward', () => {
    expect(momentAt('Europe/Berlin', '2027-03-28T03:30')).toBe('2027-03-28T01:30:00.000Z');
    expect(clockAt('Europe/Berlin', '2027-03-28T01:30:00.000Z')).toBe('2027-03-28T03:30');
  });
});

describe('codes', () => {
  it.each([
    [numbered, '2', { value: '2' }],
    [numbered, '12', { value: '12' }],
    [numbered, '3', { slip: 'noCode' }],
    [numbered, 'lum', { value: '2' }],
    [named, '2', { value: 'hill' }],
    [named, '4', { slip: 'noCode' }],
    [named, 'ha', { value: 'harbour' }],
    [named, 'h', { slip: 'severalCodes' }],
    [named, 'HILL', { value: 'hill' }],
  ])('are taken by number or by name: %j %s', async (list, typed, answer) => {
    expect(await read(screen('single answer', { codes: list }), typed)).toEqual(answer);
  });

  it('are gone on from only where no longer number can follow', () => {
    const asked = screen('single answer', { codes: numbered });
    expect(['1', '2', '12', '9'].map((typed) => isWhole(asked, typed))).toEqual([false, true, true, false]);
    expect(isWhole(screen('single answer', { codes: named }), '3')).toBe(true);
    expect(isWhole(screen('yes/no'), '1')).toBe(true);
    expect(isWhole(screen('whole number'), '1')).toBe(false);
  });

  it('stand several in a line, each once', async () => {
    const asked = screen('multiple answer', { codes: named });
    expect(await read(asked, '1, 3 1')).toEqual({ value: ['harbour', 'inland'] });
    expect(await read(asked, '1 9')).toEqual({ slip: 'noCode' });
    expect(typedOf({ ...asked, value: ['harbour', 'inland'] }, ZONE)).toBe('1 3');
    expect(meaningOf({ ...asked, value: ['harbour', 'inland'] })).toBe('Harbour, Inland');
  });

  it('of a long list are looked for', async () => {
    const found = () => Promise.resolve({ codes: codes(['k7', 'Kesk seven']), more: 0 });
    const asked = screen('single answer', { codes: named, codes_left: 900 });
    expect(await readTyped(asked, 'k7', found, ZONE)).toEqual({ value: 'k7' });
  });
});

it.each([
  [screen('yes/no'), '2', { value: false }],
  [screen('yes/no'), '3', { slip: 'yesOrNo' }],
  [screen('whole number'), '12', { value: '12' }],
  [screen('whole number'), 'twelve', { slip: 'noNumber' }],
  [screen('text', { mask: 'AA-99' }), 'ke07', { value: 'KE-07' }],
  [screen('point'), '0.5 6.5 12', { value: { latitude: 0.5, longitude: 6.5, accuracy: 12 } }],
  [screen('point'), '95 6', { slip: 'noPlace' }],
  [screen('text'), '  ', { value: null }],
  [screen('text', { special_allowed: ['refused'] }), '!', { value: { special: 'refused' } }],
  [screen('text'), '!', { value: '!' }],
  [
    screen('quantity', {
      units: [
        { unit: 'kg', label: 'kilos' },
        { unit: 'sack', label: 'sacks' },
      ],
    }),
    '3,5 2',
    { value: { amount: '3,5', unit: 'sack' } },
  ],
  [screen('quantity', { units: [{ unit: 'kg', label: 'kilos' }] }), '3', { value: { amount: '3', unit: 'kg' } }],
])('%j typed %s', async (asked, typed, answer) => {
  expect(await read(asked, typed)).toEqual(answer);
});
