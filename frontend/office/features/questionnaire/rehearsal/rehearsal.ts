// The results of the jobs that rehearse and prove, as the server writes them.

export interface Rehearsal {
  wanted: number;
  made: number;
  seed: number;
  /** Rehearsals kept from before there was a day have none. */
  day?: string;
  minutes: { median: number; tenth: number; ninetieth: number } | null;
  assumption: string;
  never_asked: string[];
  /** Rehearsals kept from before these were told have none of what is marked so. */
  hash?: string;
  kept?: string;
  blocks?: { head: string; interviews: number; minutes: number | null; share: number }[];
  reach: { variable: string; kind: string; asked: number; answered: number; seconds?: number | null }[];
  rules: { variable: string; field: string; rule: string; yes: number; no: number; unknown: number; tried: number }[];
  unmet: { variable: string; rule: string; interviews: number; tries: number }[];
}

export interface Proof {
  hash: string;
  day?: string;
  reached: { variable: string; answers: Record<string, unknown>; fewest: boolean }[];
  unreachable: { variable: string; why: string }[];
  undecided: { variable: string; why: string }[];
  /** Proofs kept from before there were dead ends have none. */
  dead_ends?: { variable: string; why: string }[];
  checks: { variable: string; rule: string; verdict: string; why: string }[];
  contradictions: { first: string; first_rule: string; second: string; second_rule: string }[];
  tests: { name: string; answers: Record<string, unknown>; visits: string[] }[];
  unvisited: { branch: string; why: string }[];
}

type Result = Record<string, unknown> | null | undefined;

export const isRehearsal = (result: Result): result is Result & Rehearsal =>
  result != null && 'reach' in result && 'unmet' in result;
export const isProof = (result: Result): result is Result & Proof =>
  result != null && 'reached' in result && 'contradictions' in result;

/** In which share of the interviews each variable is asked; null without interviews. */
export function reachOf(rehearsal: Rehearsal | undefined): ReadonlyMap<string, number> | null {
  if (!rehearsal || rehearsal.made === 0) return null;
  return new Map(rehearsal.reach.map((r) => [r.variable, r.asked / rehearsal.made]));
}
