// The study that a page belongs to.
import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { useOutletContext, useParams, useSearchParams } from 'react-router';
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

const keyOf = (studyId: number) => `skavo questionnaire of study ${String(studyId)}`;

/** The questionnaire that the stations work on: that of the address, else the one worked on last, else the first. */
export function questionnaireOf(study: Study, params: URLSearchParams): Study['questionnaires'][number] | null {
  const asked = params.get('questionnaire') ?? localStorage.getItem(keyOf(study.id));
  return study.questionnaires.find((q) => String(q.id) === asked) ?? study.questionnaires[0] ?? null;
}

/** What a questionnaire of the study is called; "" for one that is not known. */
export const titleOf = (study: Study, questionnaireId: number | null | undefined) =>
  study.questionnaires.find((q) => q.id === questionnaireId)?.title ?? '';

/** From now on the stations of this browser work on this one. */
export function rememberQuestionnaire(studyId: number, id: number) {
  localStorage.setItem(keyOf(studyId), String(id));
}

export function useQuestionnaireId(): number | null {
  const study = useStudy();
  const [params] = useSearchParams();
  const id = questionnaireOf(study, params)?.id ?? null;
  useEffect(() => {
    if (id !== null) rememberQuestionnaire(study.id, id);
  }, [study.id, id]);
  return id;
}

/** Whether whoever is signed in has a permission in the study of the address. */
export function useMay(): (permission: string) => boolean {
  const { data } = useStudyQuery();
  return (permission) => data?.permissions.includes(permission) ?? false;
}
