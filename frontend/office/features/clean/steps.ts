import type { Schemas } from '../../../shared/api/client';
import { MISSING, shown } from '../data';

export type StepBody = Schemas['StepOut']['body'];

/** A step as a sentence: verb, variable, the rest. */
export function stepWords(step: StepBody): [string, string, string] {
  switch (step.kind) {
    case 'recode':
      return [
        'recode',
        step.variable,
        Object.entries(step.mapping)
          .map(([from, to]) => `${from} → ${to}`)
          .join(', '),
      ];
    case 'correct':
      return [
        'correct',
        step.variable,
        `in interview ${step.interview}${step.row.length > 0 ? `, row ${step.row.join(' ')}` : ''} to ${shown(step.value)}`,
      ];
    case 'mark_missing':
      return ['mark', step.variable, `as ${MISSING[step.missing] ?? step.missing} where ${step.rule}`];
  }
}
