// What the engine's worker is asked and what it answers. The shapes of screens are the engine's own (core/interview/screens.py).
import type { KindName } from '../api/contract';
import type { components } from '../api/schema';

export type Json = string | number | boolean | null | Json[] | { [key: string]: Json };

type Shapes = components['schemas'];
type WithJson<T, K extends keyof T> = Omit<T, K> & Record<K, Json>;

export type Finding = Shapes['FindingShown'];
export type Around = Shapes['Around'];
export type Screen = Omit<WithJson<Shapes['Screen'], 'value'>, 'kind' | 'reads_back'> & {
  kind: KindName;
  reads_back: WithJson<Shapes['ReadBack'], 'value'> | null;
};
export type CodesFound = Shapes['CodesFound'];
export type OverviewLine = Shapes['OverviewLine'];

export type ExerciseDifference = Shapes['ExerciseDifference'];
/** A test interview to practise with. */
export type Exercise = Omit<Shapes['ExerciseOut'], 'answers'> & { answers: Record<string, Json> };

export interface SavedInterview {
  answers: Record<string, Json>;
  kept: Record<string, string>;
  language: string;
}

export interface PackedInterview extends SavedInterview {
  derived: Record<string, Json>;
  /** What was known of the units that it speaks of, by their identities. */
  units: Record<string, Record<string, Json>>;
}

export interface Outside {
  now: string;
  'interview.started'?: string;
  /** What the random orders of the interview follow from. */
  'interview.seed'?: string;
  'enumerator.name': string;
  /** The register unit that it is about, and what rules ask of units by their identity. */
  unit?: string | null;
  units?: Record<string, Record<string, unknown>>;
  /** What the earlier round held, by path. */
  earlier?: Record<string, unknown>;
}

/** What has changed since it was asked last: answers by path, null where one was taken back. */
export interface Unsaved extends SavedInterview {
  answers: Record<string, Json>;
}

/** The calls of the worker: arguments and result. */
export interface Calls {
  start: { args: []; result: { fromSnapshot: boolean } };
  loadRelease: { args: [key: string, compiled: string]; result: null };
  open: { args: [session: string, release: string, interview: SavedInterview, outside: Outside]; result: string[] };
  close: { args: [session: string]; result: null };
  way: { args: [session: string]; result: string[] };
  show: { args: [session: string, path: string]; result: Screen };
  page: { args: [session: string, path: string]; result: Screen[] };
  grid: { args: [session: string, path: string]; result: Screen[] };
  findCodes: { args: [session: string, path: string, typed: string]; result: CodesFound };
  answer: { args: [session: string, path: string, value: Json]; result: Screen };
  removeRow: { args: [session: string, path: string]; result: string[] };
  keep: { args: [session: string, path: string, check: number, reason: string]; result: Screen };
  speak: { args: [session: string, language: string]; result: null };
  overview: { args: [session: string, withDerived?: boolean]; result: OverviewLine[] };
  findings: { args: [session: string]; result: Finding[] };
  saved: { args: [session: string]; result: SavedInterview };
  unsaved: { args: [session: string]; result: Unsaved };
  remaining: { args: [session: string, path: string]; result: number };
  packed: { args: [session: string]; result: PackedInterview };
  exercise: { args: [session: string, exercise: Exercise]; result: ExerciseDifference[] };
  dayOfVisits: { args: [day: Day]; result: DayLine[] };
}

/** Visits as core/visits/day.py reads them, all moments by the study's clock. */
export interface Day {
  now: string;
  here: [latitude: number, longitude: number] | null;
  lists: Record<
    string,
    {
      rules: { most: number; hours_apart: number; other_parts_of_day: boolean };
      ending: string[];
      passing_on: string[];
    }
  >;
  visits: {
    visit: string;
    list: string;
    place: number[] | null;
    attempts: { outcome: string; at: string; appointment: string | null; own: boolean }[];
  }[];
}

/** One visit in the order of the day. */
export interface DayLine {
  visit: string;
  standing: 'open' | 'to pass on' | 'tried enough' | 'ended';
  is_due: boolean;
  before: string | null;
  part: 'morning' | 'afternoon' | 'evening' | null;
  appointment: string | null;
  metres: number | null;
}

export type CallName = keyof Calls;

export interface Request {
  id: number;
  call: CallName;
  args: unknown[];
}

export type Reply = { id: number; result: unknown } | { id: number; error: string };
