import { expect, it } from 'vitest';
import { farthestOf } from './layers';
import type { Sheet } from './sheets';

const sheet = (form: 'shapes' | 'tiles', min_zoom: number): Sheet => ({
  line: {
    id: 1,
    name: 'Isles',
    form,
    hash: 'a',
    bytes: 1,
    bounds: [-1, -1, 1, 1],
    kind: 'pictures',
    min_zoom,
    max_zoom: 14,
    attribution: '',
    layers: [],
  },
  read: () => Promise.resolve(new ArrayBuffer(0)),
});

it('draws tiles from two steps before the first they are made for, so that nobody loads a whole city from afar', () => {
  expect(farthestOf(sheet('tiles', 13))).toBe(11);
  expect(farthestOf(sheet('tiles', 1))).toBe(0);
});

it('draws shapes from any distance', () => {
  expect(farthestOf(sheet('shapes', 13))).toBe(0);
});
