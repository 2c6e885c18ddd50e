// Where the blocks of a flow stand, and the lines between them: one below the other, those passed over beside.
import type { Schemas } from '../../../../shared/api/client';

export type Block = Schemas['Block'];
export type Way = Schemas['Way'];

export interface Placed {
  block: Block;
  top: number;
  height: number;
}

export interface Line {
  way: Way;
  /** SVG path. */
  path: string;
  width: number;
  /** Where its words stand; beside the line for straight ones. */
  labelX: number;
  labelY: number;
  straight: boolean;
}

export const BLOCK_WIDTH = 470;
export const CELLS_A_ROW = 14;
const HEAD = 32;
const CELL = 17;
const GAP = 44;
const LEFT = 20;
const SIDE_STEP = 26;
const THICKEST = 12;

/** Blocks from top to bottom, each as high as its questions need. */
export function place(blocks: Block[]): Placed[] {
  let top = GAP;
  return blocks.map((block) => {
    const height = HEAD + Math.ceil(block.parts.length / CELLS_A_ROW) * CELL + 8;
    const placed = { block, top, height };
    top += height + GAP;
    return placed;
  });
}

export const heightOf = (placed: Placed[]): number => {
  const last = placed.at(-1);
  return last ? last.top + last.height + GAP : 0;
};

/** The lines of the ways, as thick as many went; ways past blocks run on the right, the longer ones further out. */
export function linesOf(ways: Way[], placed: Placed[], interviews: number): Line[] {
  const middle = LEFT + BLOCK_WIDTH / 2;
  const right = LEFT + BLOCK_WIDTH;
  const bottomOf = (number: number | null) => {
    const block = number === null ? undefined : placed[number];
    return block ? block.top + block.height : 0;
  };
  const topOf = (number: number | null) => (number === null ? heightOf(placed) : (placed[number]?.top ?? 0));
  const span = (way: Way) => (way.end ?? placed.length) - (way.start ?? -1);
  const taken: Way[][] = [];
  const beside = (way: Way): number => {
    const [from, to] = [way.start ?? -1, way.end ?? placed.length];
    const free = taken.findIndex((lane) =>
      lane.every((other) => (other.end ?? placed.length) <= from || (other.start ?? -1) >= to),
    );
    const lane = free < 0 ? taken.length : free;
    (taken[lane] ??= []).push(way);
    return lane;
  };
  return [...ways]
    .filter((way) => way.interviews > 0)
    .sort((a, b) => span(a) - span(b))
    .map((way) => {
      const width = Math.max(1, (THICKEST * way.interviews) / Math.max(1, interviews));
      const [from, to] = [bottomOf(way.start ?? null), topOf(way.end ?? null)];
      if (span(way) <= 1) {
        const path = `M ${String(middle)} ${String(from)} V ${String(to)}`;
        return { way, path, width, labelX: middle + 12, labelY: (from + to) / 2 + 4, straight: true };
      }
      const x = right + SIDE_STEP * (1 + beside(way));
      const start = way.start === null ? from : from - 12;
      const end = way.end === null ? to : to + 14;
      const path = `M ${String(way.start === null ? middle : right)} ${String(start)} C ${String(x)} ${String(start)} ${String(x)} ${String(start)} ${String(x)} ${String(start + 24)} V ${String(end - 24)} C ${String(x)} ${String(end)} ${String(x)} ${String(end)} ${String(way.end === null ? middle : right)} ${String(end)}`;
      return { way, path, width, labelX: x + 6, labelY: (start + end) / 2, straight: false };
    });
}

export const widthOf = (lines: Line[]): number =>
  LEFT +
  BLOCK_WIDTH +
  40 +
  Math.max(0, ...lines.filter((line) => !line.straight).map((l) => l.labelX - LEFT - BLOCK_WIDTH + 60));
