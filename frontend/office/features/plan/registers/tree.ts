// The lines of the tree that are on show: which branches are unfolded, and what stands below what.
import type { Branch, Line } from './registers';

/** A unit, or what says that there are more below `above` than are on show. */
export type Row =
  | { what: 'unit'; line: Line; depth: number; unfolded: boolean }
  | { what: 'more'; above: number; depth: number; left: number };

/** How many of one branch are shown first, then after each wish for more. */
export const FIRST = 200;
export const MOST = 5000;
export const more = (limit: number): number => Math.min(MOST, limit * 5);

/**
 * The rows on show. Of a narrowed tree that came whole everything is unfolded but what is in `folded`; else what is in
 * `unfolded`, and there.
 */
export function rowsOf(
  root: Branch,
  branches: ReadonlyMap<number, Branch>,
  unfolded: ReadonlyMap<number, number>,
  folded: ReadonlySet<number>,
): Row[] {
  if (root.deep) return deepRows(root.lines, folded);
  const rows: Row[] = [];
  const put = (branch: Branch, above: number, depth: number) => {
    for (const line of branch.lines) {
      const below = unfolded.has(line.id) ? branches.get(line.id) : undefined;
      rows.push({ what: 'unit', line, depth, unfolded: unfolded.has(line.id) && line.below > 0 });
      if (below !== undefined) put(below, line.id, depth + 1);
    }
    const left = branch.total - branch.lines.length;
    if (left > 0) rows.push({ what: 'more', above, depth, left });
  };
  put(root, 0, 0);
  return rows;
}

function deepRows(lines: Line[], folded: ReadonlySet<number>): Row[] {
  const rows: Row[] = [];
  let hiddenBelow = Infinity;
  for (const line of lines) {
    if (line.depth > hiddenBelow) continue;
    const unfolded = line.below > 0 && !folded.has(line.id);
    hiddenBelow = unfolded || line.below === 0 ? Infinity : line.depth;
    rows.push({ what: 'unit', line, depth: line.depth, unfolded });
  }
  return rows;
}

/** The place of the unit that a row hangs under; -1 for an outermost one. */
export function placeAbove(rows: Row[], at: number): number {
  const depth = rows[at]?.depth ?? 0;
  for (let before = at - 1; before >= 0; before -= 1) if ((rows[before]?.depth ?? 0) < depth) return before;
  return -1;
}
