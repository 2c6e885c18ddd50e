import { useEffect, useState } from 'react';
import { theEngine } from '../../shared/engine/client';
import type { Screen } from '../../shared/engine/types';

/** The questions on the page: the one that is asked, or all of its section. */
export function usePage(isSection: boolean, uuid: string, screen: Screen): Screen[] {
  const [section, setSection] = useState<Screen[]>([]);
  useEffect(() => {
    if (!isSection) return;
    let live = true;
    void theEngine()
      .call('page', uuid, screen.path)
      .then((found) => {
        if (live) setSection(found);
      })
      // Then the question alone is shown.
      .catch(() => undefined);
    return () => {
      live = false;
    };
  }, [isSection, uuid, screen]);
  const isHere = section.some((one) => one.path === screen.path);
  return isSection && isHere ? section : [screen];
}

/** Brings what is to be mended into view. */
export function showFirstFinding(): void {
  window.requestAnimationFrame(() => {
    document.querySelector('.question .note.must, .question .note.should')?.scrollIntoView({ block: 'center' });
  });
}
