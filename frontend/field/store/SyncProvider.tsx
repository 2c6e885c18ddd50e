import { useCallback, useEffect, useMemo, useState, type ReactNode } from 'react';
import { SyncContext, type SyncStatus } from './syncContext';
import { sync, type SyncMode } from './sync';
import { lookForUpdate } from './update';
import { onVault } from './vault';

const EVERY_MS = 60_000;
const SELDOM_MS = 15 * 60_000;

/** Keeps phone and office together: at the start, when the network comes back or the phone is unlocked, and every minute. */
export function SyncProvider({ children }: { children: ReactNode }) {
  const [status, setStatus] = useState<SyncStatus>({
    online: navigator.onLine,
    busy: false,
    problem: '',
    since: new Date(),
  });
  const run = useCallback(async (mode: SyncMode = 'by itself') => {
    setStatus((s) => ({ ...s, busy: true }));
    const outcome = await sync(mode);
    if (outcome.reached) lookForUpdate();
    setStatus((s) => ({
      online: outcome.reached,
      busy: false,
      problem: outcome.problem,
      since: s.online === outcome.reached ? s.since : new Date(),
    }));
    return outcome.reached;
  }, []);
  useEffect(() => {
    let timer = 0;
    let wait = EVERY_MS;
    const go = async () => {
      window.clearTimeout(timer);
      const reached = await run();
      // Where nobody answers, trying ever more seldom spares the battery.
      wait = reached ? EVERY_MS : Math.min(2 * wait, SELDOM_MS);
      timer = window.setTimeout(() => void go(), wait);
    };
    const now = () => {
      wait = EVERY_MS;
      void go();
    };
    const seen = () => {
      if (document.visibilityState === 'visible') now();
    };
    const lost = () => {
      setStatus((s) => ({ ...s, online: false, since: s.online ? new Date() : s.since }));
    };
    timer = window.setTimeout(() => void go(), 0);
    window.addEventListener('online', now);
    window.addEventListener('offline', lost);
    document.addEventListener('visibilitychange', seen);
    const stopListening = onVault(now);
    return () => {
      window.clearTimeout(timer);
      window.removeEventListener('online', now);
      window.removeEventListener('offline', lost);
      document.removeEventListener('visibilitychange', seen);
      stopListening();
    };
  }, [run]);
  const value = useMemo(() => ({ ...status, run }), [status, run]);
  return <SyncContext value={value}>{children}</SyncContext>;
}
