import { expect, it } from 'vitest';
import { newPart, type Part } from '../script/model';
import { around, visibleOf } from './folding';

const line = (id: string, level: number, kind = 'text'): Part => ({ ...newPart(level, kind), id });
const parts = [
  line('one', 1, 'section'),
  line('a', 2),
  line('staff', 2, 'roster'),
  line('b', 3),
  line('c', 2),
  line('two', 1, 'section'),
  line('d', 2),
];
const seen = (...folded: string[]) => visibleOf(parts, new Set(folded)).map((i) => parts[i]?.id);

it('a folded line hides all that is in it and nothing else', () => {
  expect(seen()).toEqual(['one', 'a', 'staff', 'b', 'c', 'two', 'd']);
  expect(seen('staff')).toEqual(['one', 'a', 'staff', 'c', 'two', 'd']);
  expect(seen('one', 'staff')).toEqual(['one', 'two', 'd']);
  expect(seen('a')).toEqual(seen());
});

it('a line is found in all that is around it', () => {
  expect(around(parts, 'b')).toEqual(['staff', 'one']);
  expect(around(parts, 'two')).toEqual([]);
  expect(around(parts, 'gone')).toEqual([]);
});
