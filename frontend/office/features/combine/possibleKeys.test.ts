import { expect, it } from 'vitest';
import type { Variable } from '../data';
import type { Join } from './outside';
import { firstNear, type PossibleKey } from './possibleKeys';

const JOIN: Join = { into: 'interviews', keys: [], take: [], called: {}, keep: 'all', several: 'refuse', near: null };
const VARIABLES = [
  { variable: 'plate', measure: 'text' },
  { variable: 'called', measure: 'text' },
  { variable: 'ward', measure: 'code' },
] as Variable[];
const possible = (ours: string, theirs: string, words = ''): PossibleKey => ({
  pair: { ours, theirs, alike: ['case'], words },
  matched: 3,
  rows: 4,
});

it('compares what meets besides the keys, brought together by codes', () => {
  const join = { ...JOIN, keys: [possible('plate', 'plate').pair] };
  const near = firstNear(
    join,
    [possible('plate', 'plate'), possible('called', 'shop'), possible('ward', 'ward', 'en')],
    VARIABLES,
  );
  expect(near.compare).toEqual([
    { ours: 'called', theirs: 'shop', how: 'text', words: '' },
    { ours: 'ward', theirs: 'ward', how: 'exact', words: 'en' },
  ]);
  expect(near.blocks).toEqual([['ward']]);
});

it('leaves a line to be filled in where nothing meets', () => {
  expect(firstNear(JOIN, [], VARIABLES).compare).toEqual([{ ours: '', theirs: '', how: 'text', words: '' }]);
});
