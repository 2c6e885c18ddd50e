// Visits on the phone: those of this person, what became of each, and attempts that the office is told of.
import type { Schemas } from '../../shared/api/client';
import { db, type DeviceRow, type VisitsFrame } from './db';
import * as server from './server';
import { canSend, checkSeal, sealJson, unsealJson } from './vault';

export type Told = Schemas['AttemptTold'];
type Carried = Schemas['CarriedVisit'];
export type Attempt = Carried['attempts'][number];

/** A visit with the attempts that the office does not know of yet among all others, in the order in which they were made. */
export interface VisitHere extends Omit<Carried, 'attempts'> {
  attempts: (Attempt & { waits: boolean; problem?: string })[];
}

const UNSENT = 0;

/** Hold the visits that the office has for this person; `mark` tells whether they are those that are here. */
export async function holdVisits(token: string, mark: string): Promise<void> {
  const before = (await db.device.get('me'))?.visits?.mark ?? '';
  if (mark === before) return;
  const told: Schemas['CarriedVisits'] =
    mark === '' ? { time_zone: 'UTC', outcomes: [], lists: [], visits: [] } : await server.fetchVisits(token);
  const rows = await Promise.all(told.visits.map(async (one) => ({ visit: one.visit, sealed: await sealJson(one) })));
  const frame: VisitsFrame = { mark, time_zone: told.time_zone, outcomes: told.outcomes, lists: told.lists };
  await db.transaction('rw', db.visits, db.attempts, db.device, db.vault, async () => {
    const [first] = rows;
    if (first !== undefined) await checkSeal(first.sealed[0] ?? 0);
    await db.visits.clear();
    await db.visits.bulkPut(rows);
    // The office told them among the visits, or has them at one that is somebody else's now.
    await db.attempts.where('sent').equals(1).delete();
    await db.device.update('me', { visits: mark === '' ? undefined : frame });
  });
}

/** All visits that are here, with the attempts of this phone that the office has not told back yet. */
export async function listVisits(): Promise<VisitHere[]> {
  const [rows, kept] = await Promise.all([db.visits.toArray(), db.attempts.toArray()]);
  const visits = await Promise.all(rows.map((row) => unsealJson<Carried>(row.sealed)));
  const own = await Promise.all(kept.map(async (row) => ({ row, told: await unsealJson<Told>(row.sealed) })));
  return visits
    .map((visit) => {
      const known = new Set(visit.attempts.map((attempt) => attempt.identity));
      const added = own
        .filter(({ row, told }) => told.visit === visit.visit && !known.has(row.identity))
        .map(({ row, told }) => ({
          identity: row.identity,
          outcome: told.outcome,
          at: told.at,
          appointment: told.appointment,
          remark: told.remark,
          by: '',
          own: true,
          waits: row.sent === UNSENT,
          problem: row.problem,
        }));
      const attempts = [...visit.attempts.map((attempt) => ({ ...attempt, waits: false })), ...added];
      return { ...visit, attempts: attempts.sort((a, b) => Date.parse(a.at) - Date.parse(b.at)) };
    })
    .sort((a, b) => a.area.localeCompare(b.area) || a.label.localeCompare(b.label));
}

/** Keep how an attempt ended; the office is told at the next contact. */
export async function keepAttempt(told: Omit<Told, 'clock_ahead_seconds'>): Promise<void> {
  // One that ends with an interview is known by it: the office may have learnt of it from the interview alone.
  const identity = told.interview === '' ? crypto.randomUUID() : told.interview;
  const device = await db.device.get('me');
  const sealed = await sealJson({ ...told, clock_ahead_seconds: device?.clockAheadSeconds ?? null } satisfies Told);
  await db.transaction('rw', db.attempts, db.vault, async () => {
    await checkSeal(sealed[0] ?? 0);
    await db.attempts.put({ identity, sent: UNSENT, sealed });
  });
}

export const attemptsWait = async (): Promise<boolean> => (await db.attempts.where('sent').equals(UNSENT).count()) > 0;

/** Tell the office all attempts that it does not have; one that is refused stays, with why, and stops no other. */
export async function tellAttempts(
  token: string,
  stopsAll: (error: unknown) => boolean,
  wordsOf: (error: unknown) => string,
): Promise<void> {
  if (!canSend()) return;
  for (const row of await db.attempts.where('sent').equals(UNSENT).toArray()) {
    try {
      await server.tellAttempt(token, row.identity, await unsealJson<Told>(row.sealed));
      await db.attempts.update(row.identity, { sent: 1, problem: undefined });
    } catch (error) {
      if (stopsAll(error)) throw error;
      await db.attempts.update(row.identity, { problem: wordsOf(error) });
    }
  }
}

/** How a visit ended that an interview was made on, as far as that follows: by the class of the outcome. */
export function outcomeAfter(frame: DeviceRow['visits'], unfinished: string): string {
  const wanted = unfinished === '' ? 'interview' : 'partial';
  return frame?.outcomes.find((one) => one.counts_as === wanted)?.code ?? '';
}
