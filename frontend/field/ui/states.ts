import type { InterviewState } from '../store/db';
import type { Spoken } from '../texts/texts';

/** States are told by shape first. */
export const SHAPES: Record<InterviewState, string> = { 'in hand': '◐', packed: '■', 'handed in': '▲' };

/** The phone's digits are the same in all languages: they are compared with what is typed. */
const LOCALES: Record<Spoken, string> = { en: 'en-GB', fr: 'fr', ar: 'ar-u-nu-latn' };

export const timeOf = (moment: string | Date): string =>
  new Date(moment).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });

export const dayAndTime = (moment: string, language: Spoken): string =>
  `${new Date(moment).toLocaleDateString(LOCALES[language], { day: 'numeric', month: 'short' })} ${timeOf(moment)}`;

/** A day in full: Wednesday, 25 November. */
export const dayInFull = (moment: Date, language: Spoken): string =>
  moment.toLocaleDateString(LOCALES[language], { weekday: 'long', day: 'numeric', month: 'long' });

export const isToday = (moment: string): boolean => new Date(moment).toDateString() === new Date().toDateString();
