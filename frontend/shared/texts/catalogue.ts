// Catalogues of texts: one JSON file for each language, English the one that says which texts there are.
import i18next from 'i18next';
import { directionOf } from '../interview/languages';

/** The same in every language. */
export const NAME = 'Skavo';

export const spoken = i18next.createInstance();
void spoken.init({
  lng: 'en',
  fallbackLng: 'en',
  resources: {},
  keySeparator: false,
  nsSeparator: false,
  interpolation: { escapeValue: false },
});

type Plural = 'zero' | 'one' | 'two' | 'few' | 'many' | 'other';
type Whole<K extends string> = K extends `${infer Text}_${Plural}` ? Text : K;

/** The texts of a catalogue: one that depends on `count` stands in it once for each form, as `text_one`, `text_other`. */
export type KeyOf<Texts> = Whole<keyof Texts & string>;
export type Translate<K extends string> = (key: K, values?: Record<string, string | number>) => string;

/** What is filled into a text written from right to left keeps its own direction, its signs included. */
const isolate = (values: Record<string, string | number>): Record<string, string | number> =>
  Object.fromEntries(
    // The form of a text is chosen by its count, which has to stay a number.
    Object.entries(values).map(([name, value]) => [name, name === 'count' ? value : `\u2068${String(value)}\u2069`]),
  );

/** The texts of one part of Skavo; what is returned gives them in a language, in English where that lacks one. */
export function catalogue<K extends string>(
  name: string,
  languages: { en: Record<K, string> } & Record<string, Record<K, string>>,
): (language: string) => Translate<Whole<K>> {
  for (const [language, texts] of Object.entries(languages)) spoken.addResourceBundle(language, name, texts);
  return (language) => {
    const fixed = spoken.getFixedT(language, name);
    const isolated = directionOf(language) === 'rtl';
    return (key, values = {}) => fixed(key as string, isolated ? isolate(values) : values);
  };
}
