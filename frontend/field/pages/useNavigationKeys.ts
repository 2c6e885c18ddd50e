import { useEffect } from 'react';

/** Enter and the arrow keys lead on and back, except where they edit a text or move between codes. */
export function useNavigationKeys(active: boolean, next: () => Promise<void>, back: () => Promise<void>) {
  useEffect(() => {
    if (!active) return;
    const press = (event: KeyboardEvent) => {
      const inText = event.target instanceof HTMLInputElement && !['radio', 'checkbox'].includes(event.target.type);
      const inForm = event.target instanceof Element && event.target.closest('.note, select, button, dialog') !== null;
      if (inForm) return;
      if (event.key === 'Enter' || (event.key === 'PageDown' && !inText)) {
        event.preventDefault();
        void next();
      } else if (event.key === 'PageUp' && !inText) {
        event.preventDefault();
        void back();
      }
    };
    window.addEventListener('keydown', press);
    return () => {
      window.removeEventListener('keydown', press);
    };
  }, [active, next, back]);
}
