// What may go wrong with keeping things on the phone, each with a sentence that says what to do.
import Dexie from 'dexie';
import type { FieldText } from '../texts/texts';

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

/** The sentence for each. */
export const TROUBLES: Record<Trouble, FieldText> = {
  full: 'trouble_full',
  refused: 'trouble_refused',
  unforeseen: 'trouble_unforeseen',
};
