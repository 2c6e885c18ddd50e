// The words of the phone's pages, in the languages Skavo speaks, and which of them this phone speaks.
import { createContext, useContext } from 'react';
import { catalogue, type Translate } from '../../shared/texts/catalogue';
import ar from './field.ar.json';
import en from './field.en.json';
import fr from './field.fr.json';

export type FieldText = keyof typeof en;
export const SPOKEN = ['en', 'fr', 'ar'] as const;
export type Spoken = (typeof SPOKEN)[number];

export const fieldTextsIn: (language: string) => Translate<FieldText> = catalogue('field', { en, fr, ar });

const CHOSEN = 'skavo-language';
const asSpoken = (tag: string): Spoken | undefined => SPOKEN.find((spoken) => tag.toLowerCase().startsWith(spoken));

/** The language that was chosen on this phone, else the browser's, else English. */
export const languageHere = (): Spoken =>
  asSpoken(localStorage.getItem(CHOSEN) ?? '') ?? asSpoken(navigator.language) ?? 'en';

/** The words in the language of this phone, where no page is shown. */
export const wordsHere = (): Translate<FieldText> => fieldTextsIn(languageHere());

export function chooseLanguage(language: Spoken): void {
  localStorage.setItem(CHOSEN, language);
}

export const LanguageContext = createContext<{ language: Spoken; speak: (language: Spoken) => void }>({
  language: 'en',
  speak: () => undefined,
});

/** The phone's language, its words, and moments as they are written in it. */
export function useTexts() {
  const { language, speak } = useContext(LanguageContext);
  return { language, speak, t: fieldTextsIn(language) };
}
