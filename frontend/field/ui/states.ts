import type { InterviewState } from '../store/db';

/** States are told by shape first. */
export const SHAPES: Record<InterviewState, string> = { 'in hand': '◐', packed: '■', 'handed in': '▲' };

export const timeOf = (moment: string | Date): string =>
  new Date(moment).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });

export const dayAndTime = (moment: string): string =>
  `${new Date(moment).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })} ${timeOf(moment)}`;

export const isToday = (moment: string): boolean => new Date(moment).toDateString() === new Date().toDateString();
