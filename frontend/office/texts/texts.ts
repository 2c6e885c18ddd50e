// The words of the desk, and the language it speaks: the first of the browser's that there is a catalogue for.
import { catalogue, type KeyOf } from '../../shared/texts/catalogue';
import en from './office.en.json';

export type OfficeText = KeyOf<typeof en>;
export const OFFICE = 'office';

/** The same for the count. */
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

const inWords = catalogue(OFFICE, CATALOGUES)(language);
const figures = new Intl.NumberFormat(locale, { maximumFractionDigits: 20 });

/** A number as people read it: 2,600,000 rather than 2600000. */
export const figure = (value: number): string => figures.format(value);

/** The words of the desk; numbers in them as people read them. */
export const t: typeof inWords = (key, values = {}) =>
  inWords(
    key,
    Object.fromEntries(
      // The form of a text is chosen by its count, which has to stay a number.
      Object.entries(values).map(([name, value]) => [
        name,
        typeof value === 'number' && name !== 'count' ? figure(value) : value,
      ]),
    ),
  );
