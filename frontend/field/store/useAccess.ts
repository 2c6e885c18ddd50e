// Where this phone stands between its pages and what it keeps, followed by the page.
import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useState, useSyncExternalStore } from 'react';
import { isInUse } from '../../shared/interview/inUse';
import { accessOf, lockPhone, type Access } from './access';
import { db, type DeviceRow } from './db';
import { troubleOf, type Trouble } from './troubles';
import * as vault from './vault';

export type Known = { access: Access; device: DeviceRow | undefined } | { trouble: Trouble };

/** One after the other: two pages of one tab never make two vaults. */
let turn: Promise<unknown> = Promise.resolve();

let version = 0;
const subscribe = (listener: () => void) =>
  vault.onVault(() => {
    version += 1;
    listener();
  });

/** Undefined while it is not known yet. */
export function useAccess(): Known | undefined {
  const changed = useSyncExternalStore(subscribe, () => version);
  const found = useLiveQuery(
    () =>
      Promise.all([db.device.get('me'), db.vault.toArray()]).then(
        ([device]) => ({ device }),
        (error: unknown) => ({ trouble: troubleOf(error) }),
      ),
    [],
  );
  const [known, setKnown] = useState<Known>();
  useEffect(() => {
    if (found === undefined) return;
    let live = true;
    const tell = (now: Known) => {
      if (live) setKnown(now);
    };
    const look = async () => {
      if ('trouble' in found) tell(found);
      else tell({ access: await accessOf(found.device), device: found.device });
    };
    turn = turn.then(look).catch((error: unknown) => {
      console.error(error);
      tell({ trouble: troubleOf(error) });
    });
    return () => {
      live = false;
    };
  }, [found, changed]);
  return known;
}

/** Lock the phone once nobody has touched it for so long. */
export function useIdleLock(minutes: number | undefined): void {
  useEffect(() => {
    if (minutes === undefined) return;
    let touched = Date.now();
    const touch = () => {
      touched = Date.now();
    };
    // A page in the background sleeps: what counts is the clock, whenever the page is looked at.
    const look = () => {
      if (isInUse()) touch();
      if (Date.now() - touched >= minutes * 60_000) void lockPhone();
    };
    const timer = window.setInterval(look, 1000);
    const events = ['pointerdown', 'keydown', 'touchstart'] as const;
    for (const event of events) window.addEventListener(event, touch, { passive: true, capture: true });
    document.addEventListener('visibilitychange', look);
    return () => {
      window.clearInterval(timer);
      for (const event of events) window.removeEventListener(event, touch, { capture: true });
      document.removeEventListener('visibilitychange', look);
    };
  }, [minutes]);
}
