import { describe, expect, it } from 'vitest';
import { heightOf, linesOf, place, widthOf, type Way } from './layout';

const block = (questions: number) => ({
  head: 'h',
  parts: Array.from({ length: questions }, (_, i) => `p${String(i)}`),
});
const way = (start: number | null, end: number | null, interviews: number): Way => ({ start, end, interviews });

describe('the map of a flow', () => {
  const placed = place([block(2), block(60), block(1)]);

  it('has blocks one below the other, as high as their questions need', () => {
    expect(placed.map((p) => p.top < p.top + p.height)).toEqual([true, true, true]);
    placed.slice(1).forEach((p, i) => {
      const before = placed[i];
      expect(p.top).toBeGreaterThan((before?.top ?? 0) + (before?.height ?? 0));
    });
    expect(placed[1]?.height).toBeGreaterThan(placed[0]?.height ?? 0);
    expect(heightOf([])).toBe(0);
  });

  it('draws ways as thick as many went, straight to the next block and beside those passed over', () => {
    const lines = linesOf([way(null, 0, 10), way(0, 1, 5), way(0, 2, 5), way(1, 2, 0), way(2, null, 10)], placed, 10);
    expect(lines.map((l) => [l.way.start, l.way.end, l.straight])).toEqual([
      [null, 0, true],
      [0, 1, true],
      [2, null, true],
      [0, 2, false],
    ]);
    expect(lines[0]?.width).toBe(2 * (lines[1]?.width ?? 0));
  });

  it('keeps ways that overlap apart, and is as wide as they need', () => {
    const lines = linesOf([way(null, 1, 3), way(0, 2, 3), way(1, null, 3)], placed, 9);
    const lanes = lines.map((line) => line.labelX);
    expect(new Set(lanes).size).toBeGreaterThan(1);
    expect(widthOf(lines)).toBeGreaterThan(Math.max(...lanes));
    expect(widthOf([])).toBeGreaterThan(0);
  });
});
