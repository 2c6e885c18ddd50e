import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';

export type Explanation = Schemas['Explanation'];

interface Props {
  questionnaireId: number;
  partId: string;
  text: string;
  faulty: boolean;
  /** The server knows the line as it is here. */
  saved: boolean;
  filtered?: boolean;
  /** Put the rule's canonical form in its place. */
  onTidy?: (canonical: string) => void;
}

/** What a rule says, in plain words, once it is free of faults. */
export function RuleWords({ questionnaireId, partId, text, faulty, saved, filtered = false, onTidy }: Props) {
  const settled = useSettled(text.trim());
  const explained = useQuery({
    queryKey: ['explanation', questionnaireId, partId, settled, filtered],
    queryFn: () => explain(questionnaireId, { part_id: partId, text: settled, list_filtered: filtered }),
    enabled: settled !== '' && saved && !faulty && !PLAIN.has(settled),
    retry: false,
    placeholderData: (before) => before,
  });
  if (settled === '' || faulty || PLAIN.has(settled) || explained.data === undefined) return null;
  const { words, canonical } = explained.data;
  const untidy = canonical !== text.trim() && settled === text.trim();
  return (
    <p className="rule-words">
      {words}{' '}
      {onTidy && untidy && (
        <button
          type="button"
          className="plain-link"
          title={canonical}
          onClick={() => {
            onTidy(canonical);
          }}
        >
          {t('questionnaire.writeTidily')}
        </button>
      )}
    </p>
  );
}

/** Fields may hold yes, no or a code where a rule could stand: nothing needs to be said of those. */
const PLAIN = new Set(['yes', 'no']);

export const explain = (
  questionnaireId: number,
  rule: Pick<Schemas['ExplainIn'], 'part_id' | 'text'> & Partial<Schemas['ExplainIn']>,
) =>
  ask(
    api.POST('/api/questionnaires/{questionnaire_id}/explanations', {
      params: { path: { questionnaire_id: questionnaireId } },
      body: { list_filtered: false, answers: null, row: [], ...rule },
    }),
  );

function useSettled(text: string): string {
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => {
      setSettled(text);
    }, 700);
    return () => {
      clearTimeout(timer);
    };
  }, [text]);
  return settled;
}
