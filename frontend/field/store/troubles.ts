// What may go wrong with keeping things on the phone, each with a sentence that says what to do.
import Dexie from 'dexie';

/** Why something could not be kept: `full` storage, one that the browser `refused`, or something `unforeseen`. */
export type Trouble = 'full' | 'refused' | 'unforeseen';

export function troubleOf(error: unknown): Trouble {
  const names = namesOf(error);
  if (names.has('QuotaExceededError') || names.has(Dexie.errnames.QuotaExceeded)) return 'full';
  const refused = [
    Dexie.errnames.MissingAPI,
    Dexie.errnames.OpenFailed,
    Dexie.errnames.DatabaseClosed,
    'InvalidStateError',
    'SecurityError',
    'UnknownError',
  ];
  return refused.some((name) => names.has(name)) ? 'refused' : 'unforeseen';
}

/** The name of an error and of those it was caused by. */
function namesOf(error: unknown): Set<string> {
  const names = new Set<string>();
  let found = error;
  while (typeof found === 'object' && found !== null && 'name' in found && typeof found.name === 'string') {
    names.add(found.name);
    found = 'inner' in found ? found.inner : 'cause' in found ? found.cause : null;
  }
  return names;
}

export const TROUBLES: Record<Trouble, string> = {
  full: 'The phone’s storage is full. The last answers are on the screen but not kept yet: free some space (photos, other apps), then go on. Skavo tries again with every answer.',
  refused:
    'This browser does not let Skavo keep anything. Leave private browsing, allow storage for this site, or open Skavo in another browser.',
  unforeseen:
    'The last answer could not be kept. It is still on the screen: go on, and Skavo tries again. If this stays, save all interviews to a file under Me.',
};
