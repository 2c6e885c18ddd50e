// What the office has set for this phone, and what follows from it.
import { useLiveQuery } from 'dexie-react-hooks';
import { ORDINARY_PROFILE } from '../../shared/api/contract';
import { db, type Settings } from './db';

/** The profile until the office has been heard: as every study begins, but for the PIN, which it has to ask for. */
const BEFORE: Settings = { ...ORDINARY_PROFILE, pin: false };

export const settingsHere = async (): Promise<Settings> => (await db.device.get('me'))?.settings ?? BEFORE;

export const useSettings = (): Settings => useLiveQuery(settingsHere, []) ?? BEFORE;

/** The languages in which an interview may be led: those of the profile that the questionnaire speaks, else all of its own. */
export function languagesOf(spoken: string[], settings: Settings): string[] {
  const wanted = settings.languages.filter((tag) => spoken.includes(tag));
  return wanted.length === 0 ? spoken : wanted;
}
