// The study that a page belongs to.
import { useQuery } from '@tanstack/react-query';
import { useOutletContext, useParams } from 'react-router';
import { api, ask, type Schemas } from '../../shared/api/client';

type Study = Schemas['StudyOut'];

/** The study of the address; on a page outside of all studies nothing is asked. */
export function useStudyQuery() {
  const id = Number(useParams().studyId);
  return useQuery({
    queryKey: ['study', id],
    queryFn: () => ask(api.GET('/api/studies/{study_id}', { params: { path: { study_id: id } } })),
    enabled: Number.isSafeInteger(id),
  });
}

export const useStudy = () => useOutletContext<Study>();

/** The questionnaire that the stations work on: the first one. */
export function useQuestionnaireId(): number | null {
  return useStudy().questionnaires[0]?.id ?? null;
}

/** Whether whoever is signed in has a permission in the study of the address. */
export function useMay(): (permission: string) => boolean {
  const { data } = useStudyQuery();
  return (permission) => data?.permissions.includes(permission) ?? false;
}
