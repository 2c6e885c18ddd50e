// The words of the interview's own buttons, in the languages Skavo speaks.
import { catalogue } from '../texts/catalogue';
import ar from '../texts/interview.ar.json';
import en from '../texts/interview.en.json';
import fr from '../texts/interview.fr.json';

export type InterviewText = keyof typeof en;

/** The words in one language; English where Skavo does not speak it. */
export const textsIn = catalogue('interview', { en, fr, ar });
