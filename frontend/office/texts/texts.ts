// The words of the desk, and the language it speaks: the first of the browser's that there is a catalogue for.
import { catalogue, type KeyOf } from '../../shared/texts/catalogue';
import en from './office.en.json';

export type OfficeText = KeyOf<typeof en>;
export const OFFICE = 'office';

/** A count is read by people: 2,600,000 rather than 2600000. */
const withCounts = <Texts extends Record<string, string>>(texts: Texts): Texts =>
  Object.fromEntries(
    Object.entries(texts).map(([key, text]) => [key, text.replaceAll('{{count}}', '{{count, number}}')]),
  ) as Texts;

const CATALOGUES = { en: withCounts(en) };

/** Chosen once, as the page starts: so lists of words can be constants. */
export const language =
  navigator.languages.map((tag) => tag.split('-')[0] ?? tag).find((tag) => tag in CATALOGUES) ?? 'en';

/** How moments and numbers are written. */
export const locale = language === 'en' ? 'en-GB' : language;

export const t = catalogue(OFFICE, CATALOGUES)(language);
