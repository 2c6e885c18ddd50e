// What every kind of answer is given.
import type { CodesFound, Json, Screen } from '../../engine/types';
import type { InterviewText } from '../texts';

/** A file as an answer refers to it. */
export interface FileReference {
  [key: string]: Json;
  file: string;
  name: string;
  type: string;
  bytes: number;
}

export interface AnswerProps {
  screen: Screen;
  /** In which the interview is led, as a BCP 47 tag. */
  language: string;
  t: (key: InterviewText, values?: Record<string, string | number>) => string;
  labelledBy: string;
  invalid: boolean;
  onAnswer: (value: Json) => void;
  /** Look in a long list for what was typed. */
  findCodes: (typed: string) => Promise<CodesFound>;
  /** Keep a file until the interview is handed in; where there is none, only its reference is made. */
  keepFile?: (file: Blob, name: string) => Promise<FileReference>;
  /** A kept file by its hash; null where it is not at hand any more. */
  readFile?: (hash: string) => Promise<Blob | null>;
}

export const field = (value: Json, name: string): Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value) ? (value[name] ?? null) : null;
