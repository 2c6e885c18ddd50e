import { expect, it } from 'vitest';
import { beginOf } from './periods';

const local = (text: string) => new Date(text);

it.each([
  ['2026-11-27T15:30', 'week', 'en', '2026-11-23T00:00'],
  ['2026-11-23T00:00', 'week', 'fr', '2026-11-23T00:00'],
  ['2026-11-22T23:59', 'week', 'en', '2026-11-16T00:00'],
  ['2026-11-27T15:30', 'week', 'ar', '2026-11-21T00:00'],
  ['2026-03-01T08:00', 'week', 'en', '2026-02-23T00:00'],
  ['2026-11-27T15:30', 'today', 'en', '2026-11-27T00:00'],
] as const)('at %s the %s of somebody who speaks %s began at %s', (now, period, language, began) => {
  expect(beginOf(period, language, local(now))).toEqual(local(began));
});

it('a round begins on its first day, and where there is none everything belongs to it', () => {
  const now = local('2026-11-27T15:30');
  expect(beginOf('round', 'en', now, '2026-11-02')).toEqual(local('2026-11-02T00:00'));
  expect(beginOf('round', 'en', now)).toEqual(new Date(0));
});
