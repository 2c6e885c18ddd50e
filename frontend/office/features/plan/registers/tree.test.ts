import { expect, it } from 'vitest';
import type { Branch, Line } from './registers';
import { more, placeAbove, rowsOf } from './tree';

const line = (id: number, depth: number, below: number): Line => ({
  id,
  kind_id: 1,
  key: `K${String(id)}`,
  label: `Unit ${String(id)}`,
  closed: false,
  faults: 0,
  depth,
  meant: true,
  below,
  filled: null,
});

const branch = (lines: Line[], total = lines.length, deep = false): Branch => ({
  lines,
  deep,
  total,
  meant: total,
  totals: [],
  filled: null,
});

const shown = (rows: ReturnType<typeof rowsOf>) =>
  rows.map((row) => (row.what === 'unit' ? `${'>'.repeat(row.depth)}${String(row.line.id)}` : `+${String(row.left)}`));

const none = new Map<number, number>();

it('shows what is unfolded, each below the unit that it hangs under', () => {
  const root = branch([line(1, 0, 3), line(2, 0, 0)]);
  const branches = new Map([
    [1, branch([line(3, 1, 1), line(4, 1, 0)])],
    [3, branch([line(5, 2, 0)])],
  ]);
  expect(shown(rowsOf(root, branches, none, new Set()))).toEqual(['1', '2']);
  const unfolded = new Map([
    [1, 200],
    [3, 200],
  ]);
  expect(shown(rowsOf(root, branches, unfolded, new Set()))).toEqual(['1', '>3', '>>5', '>4', '2']);
});

it('says how many more there are, in the branch where they are', () => {
  const root = branch([line(1, 0, 900)], 7);
  const branches = new Map([[1, branch([line(2, 1, 0)], 900)]]);
  expect(shown(rowsOf(root, branches, new Map([[1, 200]]), new Set()))).toEqual(['1', '>2', '+899', '+6']);
});

it('unfolds all of a narrowed tree, but what somebody folded', () => {
  const root = branch([line(1, 0, 2), line(2, 1, 1), line(3, 2, 0), line(4, 0, 1), line(5, 1, 0)], 2, true);
  expect(shown(rowsOf(root, new Map(), none, new Set()))).toEqual(['1', '>2', '>>3', '4', '>5']);
  expect(shown(rowsOf(root, new Map(), none, new Set([1])))).toEqual(['1', '4', '>5']);
  expect(shown(rowsOf(root, new Map(), none, new Set([2])))).toEqual(['1', '>2', '4', '>5']);
});

it('finds what a row hangs under', () => {
  const rows = rowsOf(
    branch([line(1, 0, 2), line(2, 1, 1), line(3, 2, 0), line(4, 0, 0)], 2, true),
    new Map(),
    none,
    new Set(),
  );
  expect([0, 1, 2, 3].map((at) => placeAbove(rows, at))).toEqual([-1, 0, 1, -1]);
});

it('asks for ever more of a long branch, and ends at what a page can hold', () => {
  expect([more(200), more(1000), more(5000)]).toEqual([1000, 5000, 5000]);
});
