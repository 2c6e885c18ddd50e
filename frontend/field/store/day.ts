// The day of visits, as the engine puts it in order: what is due, what was agreed, what waits.
import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useMemo, useState } from 'react';
import { shownBy } from '../../shared/clock';
import { theEngine } from '../../shared/engine/client';
import type { Day, DayLine } from '../../shared/engine/types';
import { ofDevice, type Fix } from '../../shared/interview/positioning';
import { db, type VisitsFrame } from './db';
import { listVisits, type VisitHere } from './visits';

export type Planned = VisitHere & { line: DayLine };

/** What a clock in `timeZone` shows at a moment, with its offset: 2030-01-31T09:30:00-08:00. */
export function inZone(timeZone: string, moment: string | Date): string {
  const shown = shownBy(timeZone, moment);
  const minutes = Math.round((Date.parse(`${shown}Z`) - new Date(moment).getTime()) / 60_000);
  const two = (n: number) => String(Math.floor(Math.abs(n))).padStart(2, '0');
  return `${shown}${minutes < 0 ? '-' : '+'}${two(minutes / 60)}:${two(minutes % 60)}`;
}

/** What the engine is asked. */
export function dayOf(frame: VisitsFrame, visits: VisitHere[], here: Fix | null, now: Date): Day {
  const ending = frame.outcomes.filter((one) => one.ends).map((one) => one.code);
  const passing = frame.outcomes.filter((one) => one.passes_on).map((one) => one.code);
  const zoned = (moment: string) => inZone(frame.time_zone, moment);
  return {
    now: inZone(frame.time_zone, now),
    here: here === null ? null : [here.latitude, here.longitude],
    lists: Object.fromEntries(
      frame.lists.map((list) => [String(list.id), { rules: list.rules, ending, passing_on: passing }]),
    ),
    visits: visits.map((one) => ({
      visit: one.visit,
      list: String(one.list_id),
      place: one.place,
      attempts: one.attempts.map(({ outcome, at, appointment, own }) => ({
        outcome,
        at: zoned(at),
        appointment: appointment === null ? null : zoned(appointment),
        own,
      })),
    })),
  };
}

const AGAIN_MS = 60_000;
/** The way is thought over again once one has gone so far, in degrees: some hundred metres. */
const STEP = 0.001;

/**
 * All visits in the order of the day; null until they are known. `known` is where one is, for a page that follows that
 * itself.
 */
export function usePlanned(frame: VisitsFrame | undefined, known?: Fix | null): Planned[] | null {
  const visits = useLiveQuery(listVisits, []);
  const [lines, setLines] = useState<DayLine[] | null>(null);
  const [here, setHere] = useState<Fix | null>(null);
  const [minute, setMinute] = useState(0);
  const hasVisits = frame !== undefined;
  useEffect(() => {
    const go = (fix: Fix) => {
      setHere((before) =>
        before !== null && Math.hypot(before.latitude - fix.latitude, before.longitude - fix.longitude) < STEP
          ? before
          : fix,
      );
    };
    // Whoever has no visits is not asked where they are.
    if (!hasVisits) return undefined;
    if (known === undefined) return ofDevice.watch(go, () => undefined);
    if (known !== null) go(known);
    return undefined;
  }, [known, hasVisits]);
  useEffect(() => {
    const passing = setInterval(() => {
      setMinute((before) => before + 1);
    }, AGAIN_MS);
    return () => {
      clearInterval(passing);
    };
  }, []);
  useEffect(() => {
    if (frame === undefined || visits === undefined) return;
    let live = true;
    void theEngine()
      .call('dayOfVisits', dayOf(frame, visits, here, new Date()))
      .then((found) => {
        if (live) setLines(found);
      })
      .catch(() => undefined);
    return () => {
      live = false;
    };
  }, [frame, visits, here, minute]);
  return useMemo(() => {
    if (lines === null || visits === undefined) return null;
    const byVisit = new Map(visits.map((one) => [one.visit, one]));
    return lines.flatMap((line) => {
      const visit = byVisit.get(line.visit);
      return visit === undefined ? [] : [{ ...visit, line }];
    });
  }, [lines, visits]);
}

export const useFrame = (): VisitsFrame | undefined =>
  useLiveQuery(async () => (await db.device.get('me'))?.visits, []);
