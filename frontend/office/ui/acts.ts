// What the page that is open can do, offered by the finder beside the places it finds.
import { useEffect, useRef } from 'react';

export interface Act {
  key: string;
  label: string;
  run: () => void;
}

const NOTHING = (): Act[] => [];
let source = NOTHING;

/**
 * Offer acts for as long as the page that can do them is open.
 *
 * Nobody is told of a change: the finder asks when it is drawn. A page may so offer what it has just put
 * together at every letter typed, without a second drawing of the frame for each.
 */
export function useOfferedActs(offered: Act[]) {
  const latest = useRef(offered);
  useEffect(() => {
    latest.current = offered;
  });
  useEffect(() => {
    const own = () => latest.current;
    source = own;
    return () => {
      if (source === own) source = NOTHING;
    };
  }, []);
}

/** The acts of the page that is open, as it was last drawn. */
export const offeredActs = (): Act[] => source();
