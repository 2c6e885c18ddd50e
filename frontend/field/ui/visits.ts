// How visits are told on the phone: what became of them, what comes next, how far.
import type { Look } from '../../shared/map/marks';
import { lookOfOutcome, outcomeWords } from '../../shared/map/outcomes';
import type { Planned } from '../store/day';
import type { VisitsFrame } from '../store/db';
import type { Spoken, useTexts } from '../texts/texts';
import { dayAndTime, isToday, timeOf } from './states';

type T = ReturnType<typeof useTexts>['t'];

/** The mark of a visit: what became of the last attempt. */
export function lookOf(visit: Planned, frame: VisitsFrame): Look {
  const last = visit.attempts.at(-1);
  const outcome = frame.outcomes.find((one) => one.code === last?.outcome);
  return lookOfOutcome(outcome);
}

const METRES_SAID_IN_TENS = 1000;

export function distance(metres: number, t: T): string {
  if (metres < METRES_SAID_IN_TENS) return t('metresAway', { n: Math.round(metres / 10) * 10 });
  return t('kilometresAway', { n: (metres / 1000).toFixed(1) });
}

/** What was last, and what to do now, in one line. */
export function nextWords(visit: Planned, frame: VisitsFrame, t: T, language: Spoken): string {
  const last = visit.attempts.at(-1);
  const { standing, before, part, appointment, is_due: isDue } = visit.line;
  const said: string[] = [];
  if (last !== undefined)
    said.push(
      t('lastAttempt', {
        outcome: outcomeWords(frame.outcomes, last.outcome, language),
        when: isToday(last.at) ? timeOf(last.at) : dayAndTime(last.at, language),
      }),
    );
  if (standing === 'to pass on') said.push(t('passedOn'));
  else if (standing === 'tried enough') said.push(t('triedEnough'));
  else if (standing === 'open' && appointment !== null)
    said.push(
      t('appointmentAt', { when: isToday(appointment) ? timeOf(appointment) : dayAndTime(appointment, language) }),
    );
  else if (standing === 'open' && part !== null) said.push(t(PARTS[part]));
  else if (standing === 'open' && !isDue && before !== null)
    said.push(t('notBefore', { when: isToday(before) ? timeOf(before) : dayAndTime(before, language) }));
  return said.join(' · ');
}

const PARTS = { morning: 'tryMorning', afternoon: 'tryAfternoon', evening: 'tryEvening' } as const;
