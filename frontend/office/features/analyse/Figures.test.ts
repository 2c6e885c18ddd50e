import { expect, it } from 'vitest';
import type { Schemas } from '../../../shared/api/client';
import { figureOf, marginOf } from './Figures';

const cell = (value: number, low: number, high: number) =>
  ({ value, low, high, base: 100, count: 50, standard_error: null }) as unknown as Schemas['Cell'];

it.each([
  // Of few cases, of 50,000, of a million: both ends of an interval are never written the same.
  [cell(0.947, 0.82, 0.98), '94.7 %', '82 – 98'],
  [cell(0.94736, 0.94537, 0.94929), '94.7 %', '94.5 – 94.9'],
  [cell(0.947361, 0.94692, 0.9478), '94.74 %', '94.69 – 94.78'],
  [cell(0, 0, 0), '0.0 %', '0 – 0'],
])('shows as many digits of a share as its margin has: %#', (one, figure, margin) => {
  expect([figureOf(one, 'share'), marginOf(one, 'share')]).toEqual([figure, margin]);
});
