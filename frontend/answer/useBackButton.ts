// The browser's back button leads through the sections that were seen, and from the first one to what stands before them.
import { useEffect } from 'react';

/** A place in the browser's history: the path of a section's question, null behind the last one. */
interface Place {
  shows: string | null;
}

const isPlace = (state: unknown): state is Place => typeof state === 'object' && state !== null && 'shows' in state;

/** Another place is shown, and the back button leads from it to the one shown now. */
export function remember(path: string | null): void {
  window.history.pushState({ shows: path } satisfies Place, '');
}

/** `first` is shown to begin with; `onShow` goes to a place in the history, `onLeave` before the first. */
export function useBackButton(
  first: string,
  onShow: (path: string | null) => Promise<void>,
  onLeave: () => void,
): void {
  useEffect(() => {
    remember(first);
  }, [first]);
  useEffect(() => {
    const moved = ({ state }: PopStateEvent) => {
      if (isPlace(state)) void onShow(state.shows);
      else onLeave();
    };
    window.addEventListener('popstate', moved);
    return () => {
      window.removeEventListener('popstate', moved);
    };
  }, [onShow, onLeave]);
}
