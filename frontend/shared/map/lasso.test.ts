import { expect, test } from 'vitest';
import { isInside } from './lasso';

const HORSESHOE: [number, number][] = [
  [0, 0],
  [0, 6],
  [6, 6],
  [6, 4],
  [2, 4],
  [2, 2],
  [6, 2],
  [6, 0],
];

test.each([
  [[1, 3], true],
  [[4, 5], true],
  [[4, 1], true],
  // Between the ends, and beside.
  [[4, 3], false],
  [[-1, 3], false],
  [[7, 1], false],
] as const)('%j inside a line that bends back: %s', (place, inside) => {
  expect(isInside(place, HORSESHOE)).toBe(inside);
  expect(isInside(place, [...HORSESHOE].reverse())).toBe(inside);
});

test('nothing is inside a line without corners', () => {
  expect(isInside([0, 0], [])).toBe(false);
});
