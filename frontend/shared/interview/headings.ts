// Where a question stands, in words: its sections, and the row of each roster.
import type { Around } from '../engine/types';
import type { textsIn } from './texts';

/** `around` from outside in; a grid is told by its question already. */
export const headingOf = (around: Around[], t: ReturnType<typeof textsIn>): string =>
  around
    .filter((one) => one.kind !== 'grid')
    .flatMap((one) =>
      one.kind === 'roster' ? [one.title, t('person', { row: one.row ?? 0, rows: one.rows ?? 0 })] : [one.title],
    )
    .filter((words) => words !== '')
    .join(' · ');
