// What tables are made of: what was collected with a questionnaire, or what a rehearsal of it made up.
import { useQuery } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useVariables } from '../data';

type Request = Schemas['TableRequest'];

export interface Source {
  questionnaireId: number;
  /** The rehearsal, null for what was collected. */
  rehearsal: number | null;
}

const pathOf = ({ questionnaireId, rehearsal }: Source) => ({
  questionnaire_id: questionnaireId,
  rehearsal_id: rehearsal ?? 0,
});

/** The rehearsals whose interviews are kept, newest first. */
export function useRehearsals(questionnaireId: number | null) {
  return useQuery({
    queryKey: ['rehearsals', questionnaireId],
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/rehearsals', {
          params: { path: { questionnaire_id: questionnaireId ?? 0 } },
        }),
      ),
    enabled: questionnaireId !== null,
  });
}

/** The variables of the data set; `collected` says whether there is any interview yet. */
export function useSourceVariables(source: Source | null, collected: boolean) {
  const rehearsal = source?.rehearsal ?? null;
  const real = useVariables(source !== null && rehearsal === null && collected ? source.questionnaireId : null);
  const madeUp = useQuery({
    queryKey: ['made up', source, 'variables'],
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/rehearsals/{rehearsal_id}/variables', {
          params: { path: pathOf(source ?? { questionnaireId: 0, rehearsal }) },
        }),
      ),
    enabled: source !== null && rehearsal !== null,
    staleTime: Infinity,
  });
  return rehearsal === null ? real : madeUp;
}

export const askTable = (source: Source, body: Request) =>
  source.rehearsal === null
    ? ask(
        api.POST('/api/questionnaires/{questionnaire_id}/table', {
          params: { path: { questionnaire_id: source.questionnaireId } },
          body,
        }),
      )
    : ask(
        api.POST('/api/questionnaires/{questionnaire_id}/rehearsals/{rehearsal_id}/table', {
          params: { path: pathOf(source) },
          body,
        }),
      );

export const askToSave = (source: Source, title: string, request: Request) =>
  source.rehearsal === null
    ? ask(
        api.POST('/api/questionnaires/{questionnaire_id}/tables', {
          params: { path: { questionnaire_id: source.questionnaireId } },
          body: { title, request },
        }),
      )
    : ask(
        api.POST('/api/questionnaires/{questionnaire_id}/rehearsals/{rehearsal_id}/tables', {
          params: { path: pathOf(source) },
          body: { title, request },
        }),
      );

export const askBehindMadeUp = (source: Source, body: Schemas['Figure']) =>
  ask(
    api.POST('/api/questionnaires/{questionnaire_id}/rehearsals/{rehearsal_id}/table/behind', {
      params: { path: pathOf(source) },
      body,
    }),
  );
