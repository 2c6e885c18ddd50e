// Which branches of the tree are unfolded, and the rows that are on show for it.
import { useMemo, useState } from 'react';
import { useBranches, useRoot, wayTo, type Narrowing } from './registers';
import { FIRST, more, rowsOf } from './tree';

export function useTree(studyId: number, narrowing: Narrowing) {
  /** The units that are unfolded, and how many below each are asked for. */
  const [unfolded, setUnfolded] = useState<ReadonlyMap<number, number>>(new Map());
  const [folded, setFolded] = useState<ReadonlySet<number>>(new Set());
  const [limit, setLimit] = useState(FIRST);
  const root = useRoot(studyId, narrowing, limit);
  const asked = useMemo(
    () => (root.data?.deep === true ? new Map<number, number>() : unfolded),
    [root.data?.deep, unfolded],
  );
  const branches = useBranches(studyId, narrowing, asked);
  const rows = useMemo(
    () => (root.data === undefined ? [] : rowsOf(root.data, branches, unfolded, folded)),
    [root.data, branches, unfolded, folded],
  );
  const fold = (unitId: number, unfold: boolean) => {
    setFolded((before) => {
      const now = new Set(before);
      if (unfold) now.delete(unitId);
      else now.add(unitId);
      return now;
    });
    setUnfolded((before) => {
      const now = new Map(before);
      if (unfold) now.set(unitId, now.get(unitId) ?? FIRST);
      else now.delete(unitId);
      return now;
    });
  };
  return {
    root,
    rows,
    fold,
    more: (above: number) => {
      if (above === 0) setLimit(more);
      else setUnfolded((before) => new Map(before).set(above, more(before.get(above) ?? FIRST)));
    },
    /** Unfold everything above a unit, so that it is on show. */
    showUnit: async (unitId: number) => {
      const way = await wayTo(studyId, unitId);
      setUnfolded((before) => {
        const now = new Map(before);
        for (const id of way) now.set(id, now.get(id) ?? FIRST);
        return now;
      });
      setFolded((before) => new Set([...before].filter((id) => !way.includes(id))));
    },
  };
}
