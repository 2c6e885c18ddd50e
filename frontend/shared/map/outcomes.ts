// What outcomes of visits look like and are called, at the desk and on the phone alike.
import type { Schemas } from '../api/client';
import type { Look } from './marks';

export type Outcome = Schemas['Outcome'];
export type Class = Outcome['counts_as'];

const LOOKS: Record<Class, Look> = {
  interview: { shape: 'disc', colour: '#1f5540' },
  partial: { shape: 'half', colour: '#1f5540' },
  refusal: { shape: 'cross', colour: '#a63d2f' },
  'non-contact': { shape: 'square', colour: '#1f2a26' },
  other: { shape: 'triangle', colour: '#d9941e' },
  unknown: { shape: 'triangle', colour: '#5b6661' },
  'not eligible': { shape: 'bar', colour: '#5b6661' },
};
const UNSEEN: Look = { shape: 'ring', colour: '#5b6661' };

/** The mark of a class of outcomes; of what nobody has seen yet where there is none. */
export const lookOfClass = (one: Class | undefined): Look => (one === undefined ? UNSEEN : LOOKS[one]);
export const lookOfOutcome = (outcome: Outcome | undefined): Look => lookOfClass(outcome?.counts_as);

/** What an outcome is called in a language, in English where that is not said; its code where nobody knows it any more. */
export function outcomeWords(outcomes: readonly Outcome[], code: string, language: string): string {
  const found = outcomes.find((one) => one.code === code);
  return found?.label[language] ?? found?.label.en ?? code;
}
