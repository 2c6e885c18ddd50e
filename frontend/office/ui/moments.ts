// Moments as the study's own clock shows them: who reads them elsewhere sees the same day and hour.
import { useMemo } from 'react';
import { shownBy } from '../../shared/clock';
import { useStudy } from './study';
import { locale, t } from '../texts/texts';

export interface Moments {
  timeOf: (moment: string | Date) => string;
  dayOf: (moment: string | Date) => string;
  dayAndTime: (moment: string | Date) => string;
  /** How long ago, in words that need no arithmetic. */
  ago: (moment: string) => string;
}

export function momentsIn(timeZone: string): Moments {
  const day = new Intl.DateTimeFormat(locale, { weekday: 'short', day: 'numeric', month: 'short', timeZone });
  const time = new Intl.DateTimeFormat(locale, { hour: '2-digit', minute: '2-digit', timeZone });
  const year = new Intl.DateTimeFormat(locale, { year: 'numeric', timeZone });
  const thisYear = year.format(new Date());
  const timeOf = (moment: string | Date) => time.format(new Date(moment));
  const dayOf = (moment: string | Date) => {
    const at = new Date(moment);
    return year.format(at) === thisYear ? day.format(at) : `${day.format(at)} ${year.format(at)}`;
  };
  const dayAndTime = (moment: string | Date) => `${dayOf(moment)} ${timeOf(moment)}`;
  const ago = (moment: string) => {
    const minutes = Math.round((Date.now() - new Date(moment).getTime()) / 60_000);
    if (minutes < 1) return t('frame.justNow');
    if (minutes < 60) return t('frame.minAgo', { minutes });
    if (minutes < 24 * 60) return t('frame.hAgo', { minutes: Math.round(minutes / 60) });
    return dayAndTime(moment);
  };
  return { timeOf, dayOf, dayAndTime, ago };
}

/** Moments in the time zone of the study that the page belongs to. */
export function useMoments(): Moments {
  const { time_zone: zone } = useStudy();
  return useMemo(() => momentsIn(zone), [zone]);
}

/** How a study's time zone is written beside its clock, as UTC−8. */
export function offsetOf(timeZone: string): string {
  const parts = new Intl.DateTimeFormat(locale, { timeZone, timeZoneName: 'shortOffset' }).formatToParts(new Date());
  return (parts.find((part) => part.type === 'timeZoneName')?.value ?? timeZone)
    .replace('GMT', 'UTC')
    .replace('-', '−');
}

/** What a clock in `timeZone` shows at a moment, as a field for day and hour takes it: 2030-01-31T09:30. */
export const clockAt = (timeZone: string, moment: string): string => shownBy(timeZone, moment).slice(0, 16);

/** The moment at which a clock in `timeZone` shows `clock`, in UTC; where it is set back there, the later one. */
export function momentAt(timeZone: string, clock: string): string {
  const wanted = Date.parse(`${clock}:00Z`);
  // The offset may be another one at the moment found: a second look settles that.
  let found = wanted;
  for (let look = 0; look < 2; look += 1) {
    const shown = Date.parse(`${clockAt(timeZone, new Date(found).toISOString())}:00Z`);
    found += wanted - shown;
  }
  return new Date(found).toISOString();
}
