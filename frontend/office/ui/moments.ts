const DAY = new Intl.DateTimeFormat('en-GB', { weekday: 'short', day: 'numeric', month: 'short' });
const TIME = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });

export const timeOf = (moment: string | Date): string => TIME.format(new Date(moment));
export const dayOf = (moment: string | Date): string => DAY.format(new Date(moment));
export const dayAndTime = (moment: string | Date): string => `${dayOf(moment)} ${timeOf(moment)}`;

/** How long ago, in words that need no arithmetic. */
export function ago(moment: string): string {
  const minutes = Math.round((Date.now() - new Date(moment).getTime()) / 60_000);
  if (minutes < 1) return 'just now';
  if (minutes < 60) return `${String(minutes)} min ago`;
  if (minutes < 24 * 60) return `${String(Math.round(minutes / 60))} h ago`;
  return dayAndTime(moment);
}
