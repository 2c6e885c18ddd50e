// What may go wrong with keeping things on the phone, each with a sentence that says what to do.
import Dexie from 'dexie';

/** Why something could not be kept: `full` storage, one that the browser `refused`, or something `unforeseen`. */
export type Trouble = 'full' | 'refused' | 'unforeseen';

export function troubleOf(error: unknown): Trouble {
  const names = new Set<string>();
  for (let found: unknown = error; found instanceof Error; found = 'inner' in found ? found.inner : found.cause) names.add(found.name);
  if (error instanceof DOMException) names.add(error.name);
  if (names.has('QuotaExceededError') || names.has(Dexie.errnames.QuotaExceeded)) return 'full';
  const refused = [Dexie.errnames.MissingAPI, Dexie.errnames.OpenFailed, Dexie.errnames.DatabaseClosed, 'InvalidStateError', 'SecurityError', 'UnknownError'];
  return refused.some((name) => names.has(name)) ? 'refused' : 'unforeseen';
}

export const TROUBLES: Record<Trouble, string> = {
  full: 'The phone’s storage is full. The last answers are on the screen but not kept yet: free some space (photos, other apps), then go on. Skavo tries again with every answer.',
  refused: 'This browser does not let Skavo keep anything. Leave private browsing, allow storage for this site, or open Skavo in another browser.',
  unforeseen: 'The last answer could not be kept. It is still on the screen: go on, and Skavo tries again. If this stays, save all interviews to a file under Me.',
};
