// Sections folded to one line: which lines are seen.
import { useCallback, useState } from 'react';
import { endOf, holdsParts, type Part } from '../script/model';

/** The places of the lines that no folded line hides. */
export function visibleOf(parts: Part[], folded: ReadonlySet<string>): number[] {
  const seen: number[] = [];
  for (let i = 0; i < parts.length;) {
    const part = parts[i];
    seen.push(i);
    i = part && folded.has(part.id) && holdsParts(part) ? endOf(parts, i) : i + 1;
  }
  return seen;
}

/** The lines that have to be unfolded for a line to be seen. */
export function around(parts: Part[], id: string): string[] {
  const at = parts.findIndex((part) => part.id === id);
  const found: string[] = [];
  let level = parts[at]?.level ?? 1;
  for (let i = at - 1; i >= 0 && level > 1; i -= 1) {
    const part = parts[i];
    if (part && part.level < level) {
      found.push(part.id);
      level = part.level;
    }
  }
  return found;
}

/** What is folded, remembered by this browser. */
export function useFolding(questionnaireId: number) {
  const key = `skavo.folded.${String(questionnaireId)}`;
  const [folded, setFolded] = useState<ReadonlySet<string>>(() => new Set(remembered(key)));
  const fold = useCallback(
    (ids: string[], shut: boolean) => {
      setFolded((before) => {
        const next = new Set(before);
        for (const id of ids)
          if (shut) next.add(id);
          else next.delete(id);
        if (next.size === before.size && [...next].every((id) => before.has(id))) return before;
        localStorage.setItem(key, JSON.stringify([...next]));
        return next;
      });
    },
    [key],
  );
  return { folded, fold };
}

function remembered(key: string): string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(key) ?? '[]');
    return Array.isArray(kept) ? kept.filter((id): id is string => typeof id === 'string') : [];
  } catch {
    return [];
  }
}
