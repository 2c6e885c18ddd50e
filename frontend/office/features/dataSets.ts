// The data sets of a study: what tables, extracts and everything else are made of.
import { useQuery } from '@tanstack/react-query';
import { useSearchParams } from 'react-router';
import { api, ask, type Schemas } from '../../shared/api/client';
import { useQuestionnaireId, useStudy } from '../ui/study';

export type NamedSet = Schemas['DataSetOut'];
export type SetSource = Schemas['SourceOut'];

/** The word of an address that names a data set. */
export const DATA = 'data';

export const keyOfSets = (studyId: number) => ['study', studyId, 'data sets'];

export function useDataSets(enabled = true) {
  const study = useStudy();
  return useQuery({
    queryKey: keyOfSets(study.id),
    queryFn: () => ask(api.GET('/api/studies/{study_id}/data-sets', { params: { path: { study_id: study.id } } })),
    enabled,
  });
}

/** The data set of the address, or what the questionnaire that is worked on begins with; undefined until it is known. */
export function useChosenSet(): { sets: NamedSet[]; chosen: NamedSet | undefined } {
  const questionnaire = useQuestionnaireId();
  const [params] = useSearchParams();
  const sets = useDataSets(questionnaire !== null).data?.sets ?? [];
  const asked = sets.find((one) => String(one.id) === params.get(DATA));
  return { sets, chosen: asked ?? sets.find((one) => one.questionnaire_id === questionnaire) };
}

export const choicesOfSets = (sets: NamedSet[]) => sets.map((one) => ({ value: String(one.id), label: one.title }));
