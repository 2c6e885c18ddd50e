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

interface ChosenSet {
  sets: NamedSet[];
  /** Undefined until it is known. */
  chosen: NamedSet | undefined;
  /** Whether the address names one that is not there any more. */
  isGone: boolean;
}

/** The data set of the address, or what the questionnaire that is worked on begins with. */
export function useChosenSet(): ChosenSet {
  const questionnaire = useQuestionnaireId();
  const [params] = useSearchParams();
  const { data } = useDataSets(questionnaire !== null);
  const sets = data?.sets ?? [];
  const asked = sets.find((one) => String(one.id) === params.get(DATA));
  return {
    sets,
    chosen: asked ?? sets.find((one) => one.questionnaire_id === questionnaire),
    isGone: data !== undefined && params.has(DATA) && asked === undefined,
  };
}

export const choicesOfSets = (sets: NamedSet[]) => sets.map((one) => ({ value: String(one.id), label: one.title }));
