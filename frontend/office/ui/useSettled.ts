import { useEffect, useState } from 'react';

const SETTLED_AFTER_MS = 350;

/** The text once it has not changed for a moment. */
export function useSettled(text: string): string {
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = window.setTimeout(() => {
      setSettled(text);
    }, SETTLED_AFTER_MS);
    return () => {
      window.clearTimeout(timer);
    };
  }, [text]);
  return settled;
}
