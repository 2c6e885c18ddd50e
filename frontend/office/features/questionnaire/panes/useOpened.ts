// Interviews that the phone pane can begin with: tests that are kept, and what a rehearsal made up.
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { api, ask } from '../../../../shared/api/client';
import type { Outside, SavedInterview } from '../../../../shared/engine/types';
import type { Beginning } from './usePreview';

export type Opens = { test: string } | { rehearsal: number; number: number };

/** How an address says what is opened, and back; null for what says nothing. */
export const written = (opens: Opens): string =>
  'test' in opens ? `test:${opens.test}` : `made-up:${String(opens.rehearsal)}:${String(opens.number)}`;

export function readOpens(text: string | null): Opens | null {
  if (text?.startsWith('test:')) return { test: text.slice('test:'.length) };
  const made = /^made-up:(\d+):(\d+)$/.exec(text ?? '');
  return made ? { rehearsal: Number(made[1]), number: Number(made[2]) } : null;
}

export function useOpened(questionnaireId: number, text: string | null) {
  const opened = useQuery({
    queryKey: ['opened', questionnaireId, text],
    queryFn: () => {
      const opens = readOpens(text);
      if (opens === null) throw new Error('An address without an interview is not asked for.');
      return 'test' in opens
        ? ask(
            api.GET('/api/questionnaires/{questionnaire_id}/tests/opened', {
              params: { path: { questionnaire_id: questionnaireId }, query: { name: opens.test } },
            }),
          )
        : ask(
            api.GET('/api/questionnaires/{questionnaire_id}/rehearsals/{rehearsal_id}/interviews/{number}', {
              params: {
                path: { questionnaire_id: questionnaireId, rehearsal_id: opens.rehearsal, number: opens.number },
              },
            }),
          );
    },
    enabled: readOpens(text) !== null,
    staleTime: Infinity,
  });
  const { data } = opened;
  const begins = useMemo(
    (): Beginning | null =>
      data === undefined
        ? null
        : { answers: data.answers as SavedInterview['answers'], outside: data.outside as unknown as Outside },
    [data],
  );
  return { begins, error: opened.error };
}
