// What the engine's worker is asked and what it answers.

export type Json = string | number | boolean | null | Json[] | { [key: string]: Json };

export interface SavedInterview {
  answers: Record<string, Json>;
  kept: Record<string, string>;
  language: string;
}

export interface PackedInterview extends SavedInterview {
  derived: Record<string, Json>;
}

export interface Outside {
  now: string;
  'interview.started'?: string;
  /** What the random orders of the interview follow from. */
  'interview.seed'?: string;
  'enumerator.name': string;
}

export interface Finding {
  code: string;
  strength: 'must' | 'should';
  path: string;
  check: number;
  rule: string;
  message: string;
  paths: string[];
  kept: string;
}

export interface Around {
  kind: 'section' | 'roster';
  title: string;
  row?: number;
  rows?: number;
}

export interface Screen {
  path: string;
  kind: string;
  variable: string;
  around: Around[];
  wording: { text: string; filled: boolean }[];
  instruction: string;
  read_aloud: boolean;
  media: string[];
  codes: { code: string; label: string; exclusive: boolean; media: string[] }[];
  units: { unit: string; label: string }[];
  /** Register units that may be picked. */
  choices: { id: string; label: string }[];
  reads_back: { path: string; shown: string; value: Json } | null;
  value: Json;
  special: string | null;
  special_allowed: string[];
  needed: boolean;
  mask: string;
  most: number | null;
  /** The row of a counted roster that this question stands in, if it may be removed. */
  removable_row: string | null;
  findings: Finding[];
  place: number;
  of: number;
  previous: string | null;
  next: string | null;
  progress: number;
}

export interface OverviewLine {
  path: string;
  around: Around[];
  kind: string;
  variable: string;
  wording: string;
  answer: string;
  state: 'answered' | 'special' | 'open';
  broken: number;
}

/** The calls of the worker: arguments and result. */
export interface Calls {
  start: { args: []; result: { fromSnapshot: boolean } };
  loadRelease: { args: [key: string, compiled: string]; result: null };
  open: { args: [session: string, release: string, interview: SavedInterview, outside: Outside]; result: string[] };
  close: { args: [session: string]; result: null };
  way: { args: [session: string]; result: string[] };
  show: { args: [session: string, path: string]; result: Screen };
  answer: { args: [session: string, path: string, value: Json]; result: Screen };
  removeRow: { args: [session: string, path: string]; result: string[] };
  keep: { args: [session: string, path: string, check: number, reason: string]; result: Screen };
  speak: { args: [session: string, language: string]; result: null };
  overview: { args: [session: string]; result: OverviewLine[] };
  findings: { args: [session: string]; result: Finding[] };
  saved: { args: [session: string]; result: SavedInterview };
  packed: { args: [session: string]; result: PackedInterview };
}

export type CallName = keyof Calls;

export interface Request {
  id: number;
  call: CallName;
  args: unknown[];
}

export type Reply = { id: number; result: unknown } | { id: number; error: string };
