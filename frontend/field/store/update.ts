// A new build of Skavo: fetched in the background, taken over at one clear moment, never under an open interview.
import { openInterviews } from '../../shared/interview/alone';
import type { ToServiceWorker } from './serviceWorkerMessages';

type Listener = (waiting: boolean) => void;

const SCOPE = '/field/';
let registration: ServiceWorkerRegistration | null = null;
let changing = false;
const listeners = new Set<Listener>();

/** A build that waits while none is in charge is the first one, and takes over by itself. */
const isWaiting = () => registration?.waiting != null && registration.active !== null;

function tell(): void {
  for (const listener of listeners) listener(isWaiting());
}

/** Register the service worker of this build and look for newer ones. */
export function registerServiceWorker(): void {
  if (!('serviceWorker' in navigator) || !import.meta.env.PROD) return;
  navigator.serviceWorker.addEventListener('controllerchange', () => {
    if (changing) window.location.assign(SCOPE);
  });
  navigator.serviceWorker.register('/field/sw.js', { scope: SCOPE, updateViaCache: 'none' }).then(
    (found) => {
      registration = found;
      found.addEventListener('updatefound', () => {
        found.installing?.addEventListener('statechange', tell);
      });
      tell();
    },
    // Without a network there is nothing newer; what is here goes on.
    () => undefined,
  );
}

/** Ask the server for a newer build; what is found is fetched and waits. */
export function lookForUpdate(): void {
  registration?.update().catch(() => undefined);
}

/** Be told whether a newer build is on the phone and waits to take over. */
export function onUpdate(listener: Listener): () => void {
  listeners.add(listener);
  listener(isWaiting());
  return () => {
    listeners.delete(listener);
  };
}

/** Change over to the newer build; says how many interviews are still open in other tabs, and then does nothing. */
export async function changeOver(): Promise<number> {
  const open = await openInterviews();
  if (open > 0) return open;
  changing = true;
  registration?.waiting?.postMessage('take over' satisfies ToServiceWorker);
  return 0;
}
