import { describe, expect, it } from 'vitest';
import { placeOf, sourceOf, titleOf, written, type Recipe } from './recipe';

const line = (rule: string) => ({ rule, table: 'interviews', reason: '' });
const recipe: Recipe = {
  sources: [sourceOf(1)],
  accepted_only: false,
  derived: [],
  left_out: [line('age < 3'), line('  '), line('ag > 9')],
  turned: [{ how: 'wide', table: 'child', variables: [], most: 2 }],
  rows: 'interviews',
};

describe('a source', () => {
  const roll = { id: 7, name: 'roll', is_joined: true };
  const known = [{ questionnaire: 1, title: 'Shops', releases: [1], outside: [roll], data_set_id: 1 }];

  it('is called as it is said, else like its table, else like its questionnaire', () => {
    expect(titleOf({ ...sourceOf(1, 7), called: 'Others' }, known)).toBe('Others');
    expect(titleOf(sourceOf(1, 7), known)).toBe('roll');
    expect(titleOf(sourceOf(1), known)).toBe('Shops');
    expect(titleOf(sourceOf(2), known)).toBe('');
  });
});

describe('a recipe being written', () => {
  it('is tried without the lines that nothing stands in yet', () => {
    expect(written(recipe).left_out.map(({ rule }) => rule)).toEqual(['age < 3', 'ag > 9']);
    expect(written(recipe).turned).toEqual([]);
  });

  it('is told what is wrong at the line as it stands on the page', () => {
    const wrong = { part: 'left_out', line: 1, words: 'There is no variable “ag”.' };
    expect(placeOf(recipe, wrong, 'left_out')).toBe(2);
    expect(placeOf(recipe, wrong, 'derived')).toBeNull();
    expect(placeOf(recipe, null, 'left_out')).toBeNull();
  });
});
