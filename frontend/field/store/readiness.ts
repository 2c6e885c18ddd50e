// Whether this phone could be switched on without any network: every file in the cache, and the engine started from it.
import { theEngine } from '../../shared/engine/client';
import type { Held, ToServiceWorker } from './serviceWorkerMessages';

/** `fetching`: files are missing; `starting`: the engine has not started from the cache yet; `never`: not in this browser. */
export type Readiness = 'fetching' | 'starting' | 'ready' | 'never';

const PROVEN = 'skavo-engine-started-from';
const PATIENCE_MS = 20_000;
/** Whether a page that the service worker does not control has started the engine: then it came from the network. */
let startedUncontrolled = false;

const isControlled = () => navigator.serviceWorker.controller !== null;

/** Start the engine once the page is the service worker's, so that it comes from the cache; without one, at once. */
export async function startEngine(): Promise<void> {
  if ('serviceWorker' in navigator && import.meta.env.PROD) await takenOver(PATIENCE_MS);
  if ('serviceWorker' in navigator && !isControlled()) startedUncontrolled = true;
  await theEngine().call('start');
}

/** Wait until the page is controlled, or long enough. */
async function takenOver(ms: number): Promise<boolean> {
  if (isControlled()) return true;
  const soon = new Promise<boolean>((resolve) => {
    const give = () => {
      resolve(isControlled());
    };
    navigator.serviceWorker.addEventListener('controllerchange', give, { once: true });
    window.setTimeout(give, ms);
  });
  // After a forced reload the page belongs to nobody until it is asked for.
  void navigator.serviceWorker
    .getRegistration('/field/')
    .then((found) => found?.active?.postMessage('take this page' satisfies ToServiceWorker));
  return soon;
}

/** Ask the service worker which of its files are in the cache; null where it does not answer. */
function whatIsHere(worker: ServiceWorker): Promise<Held | null> {
  return new Promise((resolve) => {
    const { port1, port2 } = new MessageChannel();
    const timer = window.setTimeout(() => {
      resolve(null);
    }, PATIENCE_MS);
    port1.onmessage = (event: MessageEvent<Held>) => {
      window.clearTimeout(timer);
      resolve(event.data);
    };
    worker.postMessage('what is here' satisfies ToServiceWorker, [port2]);
  });
}

/** Look again how ready the phone is; `mayRestart` says that no interview is open in the engine. */
export async function lookAgain(mayRestart: boolean): Promise<Readiness> {
  if (!('serviceWorker' in navigator)) return 'never';
  const registration = await navigator.serviceWorker.getRegistration('/field/');
  const active = registration?.active;
  if (!active) return 'fetching';
  const held = await whatIsHere(active);
  if (held === null || held.missing.length > 0) {
    localStorage.removeItem(PROVEN);
    return 'fetching';
  }
  if (localStorage.getItem(PROVEN) === held.build) return 'ready';
  if (!(await takenOver(0)) || (startedUncontrolled && !mayRestart)) return 'starting';
  if (startedUncontrolled) {
    theEngine().end();
    startedUncontrolled = false;
  }
  await theEngine().call('start');
  localStorage.setItem(PROVEN, held.build);
  return 'ready';
}
