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
const RIGHT_TO_LEFT = ['ar', 'ckb', 'dv', 'fa', 'he', 'ps', 'sd', 'ug', 'ur', 'yi'];

/** Languages a person may be written to in. */
export const SPOKEN_BY_PEOPLE = Object.entries(NAMES).map(([value, label]) => ({ value, label }));

/** A language by the name its speakers give it; its tag where the browser does not know that. */
export function languageName(tag: string): string {
  const known = NAMES[tag];
  if (known !== undefined) return known;
  try {
    return new Intl.DisplayNames([tag], { type: 'language', fallback: 'code' }).of(tag) ?? tag;
  } catch {
    return tag;
  }
}

export const directionOf = (tag: string): 'ltr' | 'rtl' =>
  RIGHT_TO_LEFT.includes(tag.split('-')[0] ?? '') ? 'rtl' : 'ltr';

export const inLanguage = (texts: Record<string, string>, tag: string): string =>
  texts[tag] ?? Object.values(texts)[0] ?? '';
