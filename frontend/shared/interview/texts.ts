// The words of the interview's own buttons, in the languages Skavo speaks; the desk's translators get the same ones.
import ar from '../../../src/skavo/core/interview/words/interview.ar.json';
import en from '../../../src/skavo/core/interview/words/interview.en.json';
import fr from '../../../src/skavo/core/interview/words/interview.fr.json';
import { catalogue, spoken } from '../texts/catalogue';

const NAME = 'interview';
const BUILT_IN = ['en', 'fr', 'ar'];

export type InterviewText = keyof typeof en;

/** The words in one language; English where there are none. */
export const textsIn = catalogue(NAME, { en, fr, ar });

/** Take in the words that a questionnaire brings for languages that Skavo does not speak, by language and key. */
export function learnWords(words: Record<string, Record<string, string>>): void {
  for (const [language, said] of Object.entries(words)) {
    if (BUILT_IN.includes(language.split('-')[0] ?? '')) continue;
    const own = Object.entries(said).flatMap(([key, text]) =>
      key.startsWith(`${NAME}.`) ? [[key.slice(NAME.length + 1), text]] : [],
    );
    spoken.removeResourceBundle(language, NAME);
    spoken.addResourceBundle(language, NAME, Object.fromEntries(own) as Record<string, string>);
  }
}
