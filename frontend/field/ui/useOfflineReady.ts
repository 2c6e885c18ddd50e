import { useEffect, useState } from 'react';

/** Whether everything that work without a network needs is on the phone: true, not yet, or never in this browser. */
export function useOfflineReady(): boolean | null {
  const [ready, setReady] = useState<boolean | null>('serviceWorker' in navigator ? false : null);
  useEffect(() => {
    if (!('serviceWorker' in navigator)) return;
    void navigator.serviceWorker.ready.then(() => {
      setReady(true);
    });
  }, []);
  return ready;
}
