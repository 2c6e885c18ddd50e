// What page and service worker say to each other.

export type ToServiceWorker = 'what is here' | 'take this page' | 'take over';

/** The build that the service worker holds, and those of its files that are not in the cache. */
export interface Held {
  build: string;
  missing: string[];
}
