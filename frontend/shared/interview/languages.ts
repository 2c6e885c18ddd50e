// Languages as they call themselves, and the direction they are written in.

const NAMES: Record<string, string> = {
  en: 'English',
  fr: 'Français',
  ar: 'العربية',
  es: 'Español',
  pt: 'Português',
  sw: 'Kiswahili',
  ru: 'Русский',
  hi: 'हिन्दी',
};
const RIGHT_TO_LEFT = ['ar', 'fa', 'he', 'ur', 'ps'];

/** Languages a person may be written to in. */
export const SPOKEN_BY_PEOPLE = Object.entries(NAMES).map(([value, label]) => ({ value, label }));

export const languageName = (tag: string): string => NAMES[tag] ?? tag;

export const directionOf = (tag: string): 'ltr' | 'rtl' =>
  RIGHT_TO_LEFT.includes(tag.split('-')[0] ?? '') ? 'rtl' : 'ltr';

export const inLanguage = (texts: Record<string, string>, tag: string): string =>
  texts[tag] ?? Object.values(texts)[0] ?? '';
