import type { Schemas } from '../../../shared/api/client';
import { MISSING, shown } from '../data';
import { t } from '../../texts/texts';

export type StepBody = Schemas['StepOut']['body'];

/** A step as a sentence: verb, variable, the rest. */
export function stepWords(step: StepBody): [string, string, string] {
  switch (step.kind) {
    case 'recode':
      return [
        t('clean.verbRecode'),
        step.variable,
        Object.entries(step.mapping)
          .map(([from, to]) => `${from} → ${to}`)
          .join(', '),
      ];
    case 'correct':
      return [
        t('clean.verbCorrect'),
        step.variable,
        step.row.length > 0
          ? t('clean.correctInRow', { interview: step.interview, row: step.row.join(' '), value: shown(step.value) })
          : t('clean.correctIn', { interview: step.interview, value: shown(step.value) }),
      ];
    case 'mark_missing':
      return [
        t('clean.verbMark'),
        step.variable,
        t('clean.asMissingWhere', { missing: MISSING[step.missing] ?? step.missing, rule: step.rule }),
      ];
  }
}
