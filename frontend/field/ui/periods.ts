// Since when: today, this week, this round of the survey, or as far back as the phone remembers.
import type { Spoken } from '../texts/texts';

export const PERIODS = ['today', 'week', 'round', 'all'] as const;
export type Period = (typeof PERIODS)[number];

/** The day on which weeks begin where a language is spoken, as far as phones agree: 1 Monday, 6 Saturday. */
const WEEK_BEGINS: Record<Spoken, number> = { en: 1, fr: 1, ar: 6 };

/** The moment at which a period began, by the phone's own clock; `round` is the first day of this round, as 2026-11-02. */
export function beginOf(period: Period, language: Spoken, now: Date, round = ''): Date {
  if (period === 'all' || (period === 'round' && round === '')) return new Date(0);
  if (period === 'round') return new Date(`${round}T00:00`);
  const day = new Date(now.getFullYear(), now.getMonth(), now.getDate());
  if (period === 'week') day.setDate(day.getDate() - ((day.getDay() - WEEK_BEGINS[language] + 7) % 7));
  return day;
}

export const isSince = (moment: string, period: Period, language: Spoken, round?: string): boolean =>
  period === 'all' || new Date(moment) >= beginOf(period, language, new Date(), round);
