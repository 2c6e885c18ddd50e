// The plan and the profile of a data set: asked for, and acted on.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { App } from 'antd';
import { useRef } from 'react';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { messageOf } from '../../ui/states';

export type Plan = Schemas['PlanOut'];
export type KeptStep = Schemas['StepOut'];
export type StepBody = KeptStep['body'];
export type Profile = Schemas['VariableProfile'];
export type Finding = Schemas['FindingOut'];
export type Preview = Schemas['Preview'];
/** A step while it is written: not every field is there yet. */
export type Draft = Record<string, unknown> & { kind: StepBody['kind'] };

const of = (id: number) => ({ path: { questionnaire_id: id } });
const ofStep = (id: number, step: number) => ({ path: { questionnaire_id: id, step_id: step } });

export const usePlan = (id: number) =>
  useQuery({
    queryKey: ['data', id, 'plan'],
    queryFn: () => ask(api.GET('/api/questionnaires/{questionnaire_id}/plan', { params: of(id) })),
  });

export const useProfile = (id: number) =>
  useQuery({
    queryKey: ['data', id, 'profile'],
    queryFn: () => ask(api.GET('/api/questionnaires/{questionnaire_id}/plan/profile', { params: of(id) })),
  });

/** What can be done to the plan; each answers with the plan as it is then. */
export const acts = {
  keep: (id: number, step: StepBody, after: number | null) =>
    ask(api.POST('/api/questionnaires/{questionnaire_id}/plan/steps', { params: of(id), body: { step, after } })),
  change: (id: number, step: number, change: Partial<Schemas['StepChange']>) =>
    ask(
      api.PATCH('/api/questionnaires/{questionnaire_id}/plan/steps/{step_id}', {
        params: ofStep(id, step),
        body: { step: null, off: null, remark: null, ...change },
      }),
    ),
  move: (id: number, step: number, after: number | null) =>
    ask(
      api.POST('/api/questionnaires/{questionnaire_id}/plan/steps/{step_id}/move', {
        params: ofStep(id, step),
        body: { after },
      }),
    ),
  takeOut: (id: number, step: number) =>
    ask(api.DELETE('/api/questionnaires/{questionnaire_id}/plan/steps/{step_id}', { params: ofStep(id, step) })),
  undo: (id: number, state: number) =>
    ask(api.POST('/api/questionnaires/{questionnaire_id}/plan/undo', { params: of(id), body: { state } })),
  redo: (id: number, state: number) =>
    ask(api.POST('/api/questionnaires/{questionnaire_id}/plan/redo', { params: of(id), body: { state } })),
};

/** Do something to the plan and show what it is then; what is under way is not begun again. */
export function useAct(id: number) {
  const queries = useQueryClient();
  const { message } = App.useApp();
  const act = useMutation({
    mutationFn: (run: () => Promise<Plan>) => run(),
    onSuccess: (plan) => {
      queries.setQueryData(['data', id, 'plan'], plan);
      void queries.invalidateQueries({
        queryKey: ['data', id],
        predicate: (query) => query.queryKey[2] !== 'plan',
      });
    },
    onError: (error) => {
      void message.error(messageOf(error));
      void queries.invalidateQueries({ queryKey: ['data', id, 'plan'] });
    },
  });
  // A second press comes before the first one is drawn: what is under way is kept apart from what is shown.
  const underWay = useRef(false);
  return (run: () => Promise<Plan>, done?: () => void) => {
    if (underWay.current) return;
    underWay.current = true;
    act.mutate(run, {
      onSuccess: done,
      onSettled: () => {
        underWay.current = false;
      },
    });
  };
}
