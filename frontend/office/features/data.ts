// What several stations ask of a questionnaire's data set.
import { useQuery } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../../shared/api/client';
import { t } from '../texts/texts';

export type Variable = Schemas['VariableOut'];

export function useVariables(questionnaireId: number | null) {
  return useQuery({
    queryKey: ['data', questionnaireId, 'variables'],
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/plan/variables', {
          params: { path: { questionnaire_id: questionnaireId ?? 0 } },
        }),
      ),
    enabled: questionnaireId !== null,
  });
}

export const MISSING: Record<string, string> = {
  unanswered: t('common.unanswered'),
  not_asked: t('common.notAsked'),
  dont_know: t('common.dontKnow'),
  refused: t('common.refused'),
};

/** A cell's value as text, whatever it holds. */
export const shown = (value: unknown): string => {
  if (value === null || value === undefined) return '';
  if (Array.isArray(value)) return value.map(shown).join(', ');
  if (typeof value === 'boolean') return value ? t('common.yes') : t('common.no');
  return typeof value === 'string' || typeof value === 'number' ? String(value) : JSON.stringify(value);
};

export const variableChoices = (variables: Variable[]) =>
  variables.map((v) => ({
    value: v.variable,
    label: v.label === v.variable ? v.variable : `${v.variable} · ${v.label}`,
  }));
