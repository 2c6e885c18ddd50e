import L from 'leaflet';
import { expect, it } from 'vitest';
import { nearestMark, placedIn, type Mark } from './marks';

const mark = (id: number, x: number, y: number): Mark => ({
  id,
  latitude: y,
  longitude: x,
  label: `Unit ${String(id)}`,
});
const placed = (...marks: Mark[]) => placedIn(marks, ({ longitude, latitude }) => L.point(longitude, latitude));

it('means the nearest mark within reach, and none beyond', () => {
  const squares = placed(mark(1, 100, 100), mark(2, 106, 100));
  expect(nearestMark(squares, 104, 100)?.id).toBe(2);
  expect(nearestMark(squares, 101, 103)?.id).toBe(1);
  expect(nearestMark(squares, 100, 112)).toBeUndefined();
});

it('finds a mark across the edge of the squares that it is sought in', () => {
  expect(nearestMark(placed(mark(1, 63, 63)), 66, 66)?.id).toBe(1);
  expect(nearestMark(placed(mark(1, -1, -1)), 2, 2)?.id).toBe(1);
});

it('finds one of thousands', () => {
  const many = Array.from({ length: 20_000 }, (_, at) => mark(at, (at % 200) * 20, Math.floor(at / 200) * 20));
  expect(nearestMark(placed(...many), 2001, 1001)?.id).toBe(50 * 200 + 100);
});
