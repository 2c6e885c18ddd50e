import { useMutation, useQueryClient } from '@tanstack/react-query';
import { App } from 'antd';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { messageOf, stateWords } from '../../ui/states';

export type Remark = Schemas['Remark'];

export interface Decision {
  id: number;
  /** That of the interview as it was seen: somebody else's decision meanwhile is not overwritten. */
  version: number;
  state: Schemas['Decision']['state'];
  remark?: string;
  remarks?: Remark[];
}

/** Accept an interview, send it back, set it aside, or take such a decision back. */
export function useDecide(studyId: number) {
  const queries = useQueryClient();
  const { message } = App.useApp();
  return useMutation({
    mutationFn: ({ id, version, state, remark = '', remarks = [] }: Decision) =>
      ask(
        api.POST('/api/interviews/{interview_id}/state', {
          params: { path: { interview_id: id } },
          body: { version, state, remark, remarks },
        }),
      ),
    onSuccess: (reading) => {
      queries.setQueryData(['interview', reading.id], reading);
      void queries.invalidateQueries({ queryKey: ['study', studyId] });
      void message.success(`${reading.key} ${stateWords(reading.state)}`);
    },
    onError: (error, { id }) => {
      void queries.invalidateQueries({ queryKey: ['interview', id] });
      void queries.invalidateQueries({ queryKey: ['study', studyId] });
      void message.error(messageOf(error));
    },
  });
}
