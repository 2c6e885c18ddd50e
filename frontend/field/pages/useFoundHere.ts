import { useEffect, useRef } from 'react';
import { useSearchParams } from 'react-router';
import type { Json } from '../../shared/engine/types';

/** Whoever comes back from adding a unit has answered with it. */
export function useFoundHere(give: (path: string, value: Json) => Promise<void>): void {
  const [params, setParams] = useSearchParams();
  const made = params.get('made');
  const path = params.get('at');
  const given = useRef('');
  useEffect(() => {
    if (made === null || path === null || given.current === made) return;
    given.current = made;
    void give(path, made);
    setParams({}, { replace: true });
    // Once for each that was made.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [made, path]);
}
