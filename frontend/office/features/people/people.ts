// What the pages about people ask of a study.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../../../shared/api/client';

export type Person = Schemas['PersonOut'];
export type People = Schemas['People'];

const keyOf = (studyId: number) => ['study', studyId, 'people'];

export function usePeople(studyId: number) {
  return useQuery({
    queryKey: keyOf(studyId),
    queryFn: () => ask(api.GET('/api/studies/{study_id}/people', { params: { path: { study_id: studyId } } })),
  });
}

/** Something done to the people of a study that answers with all of them. */
export function usePeopleChange<Body>(studyId: number, change: (body: Body) => Promise<{ data?: People }>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Body) => ask(change(body)),
    onSuccess: (people) => {
      queries.setQueryData(keyOf(studyId), people);
      void queries.invalidateQueries({ queryKey: ['study', studyId] });
    },
  });
}
