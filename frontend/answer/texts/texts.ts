// The words of a link's page, in the languages Skavo speaks.
import { Problem } from '../../shared/api/client';
import { directionOf } from '../../shared/interview/languages';
import { catalogue, type Translate } from '../../shared/texts/catalogue';
import { OpenElsewhere } from '../opening';
import ar from './answer.ar.json';
import en from './answer.en.json';
import fr from './answer.fr.json';

export type AnswerText = keyof typeof en;
export type Words = Translate<AnswerText>;

export const answerTextsIn: (language: string) => Words = catalogue('answer', { en, fr, ar });

/** Of the languages of a questionnaire the one that this browser asks for, else its first. */
export function languageOf(languages: string[], wished: string): string {
  const wishes = [wished, ...navigator.languages].filter((tag) => tag !== '');
  const plain = (tag: string) => tag.toLowerCase().split('-')[0];
  for (const wish of wishes) {
    const found = languages.find((tag) => tag.toLowerCase() === wish.toLowerCase() || plain(tag) === plain(wish));
    if (found !== undefined) return found;
  }
  return languages[0] ?? navigator.language;
}

/** The page is written in a language, and in its direction. */
export function showIn(language: string): void {
  document.documentElement.lang = language;
  document.documentElement.dir = directionOf(language);
}

/** A moment as it is written in a language. */
export const momentIn = (language: string, moment: string): string =>
  new Date(moment).toLocaleString(language, { dateStyle: 'long', timeStyle: 'short' });

const BY_CODE: Record<string, AnswerText> = {
  not_found: 'noLink',
  not_signed_in: 'signInFirst',
  answered_already: 'answeredAlready',
  link_not_open: 'closed',
  too_many_tries: 'tooOften',
  unreachable: 'unreachable',
};

/** What went wrong, in the reader's language; what there are no words for, as the server says it. */
export function problemIn(t: Words, error: unknown): string {
  if (error instanceof OpenElsewhere) return t('elsewhere');
  if (!(error instanceof Problem)) return t('unforeseen');
  const key = BY_CODE[error.code];
  return key !== undefined ? t(key) : error.message !== '' ? error.message : t('unforeseen');
}
