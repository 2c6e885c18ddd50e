// Gives the field page everything from the phone itself: page, engine, worker, fonts. A new build waits until it is told
// to take over, so that an open page keeps its own to the end.
import { cacheNames } from 'workbox-core';
import {
  cleanupOutdatedCaches,
  createHandlerBoundToURL,
  getCacheKeyForURL,
  precacheAndRoute,
} from 'workbox-precaching';
import { NavigationRoute, registerRoute } from 'workbox-routing';
import type { Held, ToServiceWorker } from './store/serviceWorkerMessages';

declare const self: ServiceWorkerGlobalScope;

const files = self.__WB_MANIFEST as { url: string; revision: string | null }[];
/** What this build is called: the page, which names all its parts, under its revision. */
const build = files.find((file) => file.url === '/field.html')?.revision ?? '';

precacheAndRoute(files);
cleanupOutdatedCaches();
registerRoute(new NavigationRoute(createHandlerBoundToURL('/field.html'), { allowlist: [/^\/field(\/|$)/] }));

self.addEventListener('activate', (event) => {
  event.waitUntil(self.clients.claim());
});

async function missingFiles(): Promise<string[]> {
  const cache = await caches.open(cacheNames.precache);
  const found = await Promise.all(
    files.map(async ({ url }) => (await cache.match(getCacheKeyForURL(url) ?? url)) !== undefined),
  );
  return files.filter((_, i) => found[i] !== true).map((file) => file.url);
}

/** Fetch again what the browser has dropped; only what carries its content's hash in its name is sure to be of this build. */
async function mend(missing: string[]): Promise<void> {
  const cache = await caches.open(cacheNames.precache);
  for (const url of missing.filter((u) => /^\/field\/(assets|engine)\//.test(u))) {
    const response = await fetch(url, { cache: 'reload' }).catch(() => null);
    if (response?.ok === true) await cache.put(getCacheKeyForURL(url) ?? url, response);
  }
}

self.addEventListener('message', (event: ExtendableMessageEvent) => {
  const asked = event.data as ToServiceWorker;
  if (asked === 'take over') event.waitUntil(self.skipWaiting());
  else if (asked === 'take this page') event.waitUntil(self.clients.claim());
  else {
    const port = event.ports[0];
    event.waitUntil(
      missingFiles()
        .then(async (missing) => {
          if (missing.length === 0) return missing;
          await mend(missing);
          return missingFiles();
        })
        .then((missing) => {
          port?.postMessage({ build, missing } satisfies Held);
        }),
    );
  }
});
