// What tables are made of: what was collected with a questionnaire, or what a rehearsal of it made up.
import { useQuery } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../../../shared/api/client';

type Request = Schemas['TableRequest'];

export interface Source {
  dataSetId: number;
  /** The questionnaire that it begins with, or that it is made from first. */
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
  const real = useQuery({
    queryKey: ['data set', source?.dataSetId, 'variables'],
    queryFn: () =>
      ask(
        api.GET('/api/data-sets/{data_set_id}/variables', {
          params: { path: { data_set_id: source?.dataSetId ?? 0 } },
        }),
      ),
    enabled: source !== null && rehearsal === null && collected,
  });
  const madeUp = useQuery({
    queryKey: ['made up', source, 'variables'],
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/rehearsals/{rehearsal_id}/variables', {
          params: { path: pathOf(source ?? { dataSetId: 0, questionnaireId: 0, rehearsal }) },
        }),
      ),
    enabled: source !== null && rehearsal !== null,
    staleTime: Infinity,
  });
  return rehearsal === null ? real : madeUp;
}

/** A table, with the data set at the revision that it is made of; what was made up is of none. */
export type Made = Schemas['ResultTable'] & Partial<Pick<Schemas['ComputedTable'], 'data_set' | 'revision'>>;

export const askTable = (source: Source, body: Request): Promise<Made> =>
  source.rehearsal === null
    ? ask(
        api.POST('/api/data-sets/{data_set_id}/table', {
          params: { path: { data_set_id: source.dataSetId } },
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
        api.POST('/api/data-sets/{data_set_id}/tables', {
          params: { path: { data_set_id: source.dataSetId } },
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
