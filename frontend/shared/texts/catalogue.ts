// Catalogues of texts: one JSON file for each language, English the one that says which texts there are.
import i18next from 'i18next';

const spoken = i18next.createInstance();
void spoken.init({ lng: 'en', fallbackLng: 'en', resources: {}, interpolation: { escapeValue: false } });

export type Translate<K extends string> = (key: K, values?: Record<string, string | number>) => string;

/** The texts of one part of Skavo; what is returned gives them in a language, in English where that lacks one. */
export function catalogue<K extends string>(
  name: string,
  languages: { en: Record<K, string> } & Record<string, Record<K, string>>,
): (language: string) => Translate<K> {
  for (const [language, texts] of Object.entries(languages)) spoken.addResourceBundle(language, name, texts);
  return (language) => {
    const fixed = spoken.getFixedT(language, name);
    return (key, values = {}) => fixed(key as string, values);
  };
}
