// What the page that is open can do, offered by the finder beside the places it finds.
import { useEffect, useSyncExternalStore } from 'react';

export interface Act {
  key: string;
  label: string;
  run: () => void;
}

const NONE: Act[] = [];
let acts = NONE;
const listeners = new Set<() => void>();

function put(next: Act[]) {
  acts = next;
  for (const listener of listeners) listener();
}

/** Offer acts for as long as the page that can do them is open. */
export function useOfferedActs(offered: Act[]) {
  useEffect(() => {
    put(offered);
    return () => {
      put(NONE);
    };
  }, [offered]);
}

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

export const useActs = (): Act[] => useSyncExternalStore(subscribe, () => acts);
