import { useCallback, useEffect, useMemo, useState, type ReactNode } from 'react';
import { SyncContext, type SyncStatus } from './syncContext';
import { sync } from './sync';
import { lookForUpdate } from './update';

const EVERY_MS = 60_000;

/** Keeps phone and office together: at the start, when the network comes back, and every minute. */
export function SyncProvider({ children }: { children: ReactNode }) {
  const [status, setStatus] = useState<SyncStatus>({
    online: navigator.onLine,
    busy: false,
    problem: '',
    since: new Date(),
  });
  const run = useCallback(async () => {
    setStatus((s) => ({ ...s, busy: true }));
    const outcome = await sync();
    if (outcome.reached) lookForUpdate();
    setStatus((s) => ({
      online: outcome.reached,
      busy: false,
      problem: outcome.problem,
      since: s.online === outcome.reached ? s.since : new Date(),
    }));
  }, []);
  useEffect(() => {
    const go = () => void run();
    const lost = () => {
      setStatus((s) => ({ ...s, online: false, since: s.online ? new Date() : s.since }));
    };
    const first = window.setTimeout(go, 0);
    const timer = window.setInterval(go, EVERY_MS);
    window.addEventListener('online', go);
    window.addEventListener('offline', lost);
    return () => {
      window.clearTimeout(first);
      window.clearInterval(timer);
      window.removeEventListener('online', go);
      window.removeEventListener('offline', lost);
    };
  }, [run]);
  const value = useMemo(() => ({ ...status, run }), [status, run]);
  return <SyncContext value={value}>{children}</SyncContext>;
}
