import { useEffect, useState } from 'react';
import { openInterviews } from '../../shared/interview/alone';
import { lookAgain, type Readiness } from '../store/readiness';
import { onUpdate } from '../store/update';

const EVERY_MS = 60_000;
const SOON_MS = 2_000;

/** How ready the phone is for work without a network; looked at again and again, so that it goes when it is no longer true. */
export function useReadiness(): Readiness | null {
  const [readiness, setReadiness] = useState<Readiness | null>('serviceWorker' in navigator ? null : 'never');
  useEffect(() => {
    let live = true;
    let timer = 0;
    const look = async () => {
      const found = await lookAgain((await openInterviews()) === 0).catch((): Readiness => 'starting');
      if (!live) return;
      setReadiness(found);
      if (found !== 'never') timer = window.setTimeout(() => void look(), found === 'ready' ? EVERY_MS : SOON_MS);
    };
    void look();
    return () => {
      live = false;
      window.clearTimeout(timer);
    };
  }, []);
  return readiness;
}

/** Whether a newer build is on the phone and waits to take over. */
export function useUpdateWaiting(): boolean {
  const [waiting, setWaiting] = useState(false);
  useEffect(() => onUpdate(setWaiting), []);
  return waiting;
}
