// Lines chosen together: by Shift and arrows, by Shift or Ctrl and the mouse.
import type { Part } from '../script/model';

/** `head` is the line that arrows move, `anchor` the one from which it was drawn. */
export interface Chosen {
  anchor: string;
  head: string;
  ids: ReadonlySet<string>;
}

export const only = (id: string): Chosen => ({ anchor: id, head: id, ids: new Set([id]) });

/** From the anchor to `id`, of the lines that are seen. */
export function drawnTo(chosen: Chosen, id: string, seen: Part[]): Chosen {
  const places = [chosen.anchor, id].map((one) => seen.findIndex((part) => part.id === one));
  const [from, to] = [Math.min(...places), Math.max(...places)];
  if (from < 0) return only(id);
  return { anchor: chosen.anchor, head: id, ids: new Set(seen.slice(from, to + 1).map((part) => part.id)) };
}

/** With `id` put in or taken out; null where none is left. */
export function toggled(chosen: Chosen | null, id: string): Chosen | null {
  const ids = new Set(chosen?.ids);
  if (!ids.delete(id)) ids.add(id);
  return ids.size === 0 ? null : { anchor: id, head: id, ids };
}
