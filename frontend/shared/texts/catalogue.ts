// Catalogues of texts: one JSON file for each language, English the one that says which texts there are.
import i18next from 'i18next';
import { directionOf } from '../interview/languages';

const spoken = i18next.createInstance();
void spoken.init({ lng: 'en', fallbackLng: 'en', resources: {}, interpolation: { escapeValue: false } });

export type Translate<K extends string> = (key: K, values?: Record<string, string | number>) => string;

/** What is filled into a text written from right to left keeps its own direction, its signs included. */
const isolate = (values: Record<string, string | number>): Record<string, string> =>
  Object.fromEntries(Object.entries(values).map(([name, value]) => [name, `\u2068${String(value)}\u2069`]));

/** The texts of one part of Skavo; what is returned gives them in a language, in English where that lacks one. */
export function catalogue<K extends string>(
  name: string,
  languages: { en: Record<K, string> } & Record<string, Record<K, string>>,
): (language: string) => Translate<K> {
  for (const [language, texts] of Object.entries(languages)) spoken.addResourceBundle(language, name, texts);
  return (language) => {
    const fixed = spoken.getFixedT(language, name);
    const isolated = directionOf(language) === 'rtl';
    return (key, values = {}) => fixed(key as string, isolated ? isolate(values) : values);
  };
}
