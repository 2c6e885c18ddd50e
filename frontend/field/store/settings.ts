// What the office has set for this phone, and what follows from it.
import { useLiveQuery } from 'dexie-react-hooks';
import { db, type Settings } from './db';

/** The profile until the office has been heard: as every study begins. */
const BEFORE: Settings = {
  page: 'question',
  turning: 'both',
  goes_on: false,
  photo_pixels: 1600,
  photo_quality: 80,
  sends: 'any network',
  keeps: 'list',
  keeps_days: 14,
  languages: [],
  pin: false,
  lock_minutes: 5,
  practice: true,
  point_metres: 12,
  help_name: '',
  help_phone: '',
};

export const settingsHere = async (): Promise<Settings> => (await db.device.get('me'))?.settings ?? BEFORE;

export const useSettings = (): Settings => useLiveQuery(settingsHere, []) ?? BEFORE;

/** The languages in which an interview may be led: those of the profile that the questionnaire speaks, else all of its own. */
export function languagesOf(spoken: string[], settings: Settings): string[] {
  const wanted = settings.languages.filter((tag) => spoken.includes(tag));
  return wanted.length === 0 ? spoken : wanted;
}
