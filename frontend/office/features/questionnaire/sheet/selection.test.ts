import { expect, it } from 'vitest';
import { newPart } from '../script/model';
import { drawnTo, only, toggled } from './selection';

const seen = ['a', 'b', 'c', 'd', 'e'].map((id) => ({ ...newPart(1), id }));
const of = (chosen: { ids: ReadonlySet<string> } | null) => [...(chosen?.ids ?? [])].sort().join('');

it('is drawn from the anchor both ways', () => {
  const from = only('c');
  expect(of(drawnTo(from, 'e', seen))).toBe('cde');
  expect(of(drawnTo(drawnTo(from, 'e', seen), 'b', seen))).toBe('bc');
  expect(drawnTo(from, 'a', seen).head).toBe('a');
  expect(of(drawnTo(only('gone'), 'b', seen))).toBe('b');
});

it('takes single lines in and out', () => {
  expect(of(toggled(only('a'), 'd'))).toBe('ad');
  expect(of(toggled(toggled(only('a'), 'd'), 'a'))).toBe('d');
  expect(toggled(only('a'), 'a')).toBeNull();
});
