import { expect, it } from 'vitest';
import { freeName } from './useMaps';

it.each([
  ['isles.geojson', [], 'isles'],
  ['isles.geojson', ['isles', 'isles 2'], 'isles 3'],
  ['.pmtiles', [], '.pmtiles'],
  ['north.coast.mbtiles', [], 'north.coast'],
  [`${'x'.repeat(90)}.json`, [], 'x'.repeat(56)],
])('calls %s, where %j are taken, %s', (file, taken, name) => {
  expect(freeName(file, taken)).toBe(name);
});
