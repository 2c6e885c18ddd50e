// What the field station asks about paper questionnaires.
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import type { Json } from '../../../../shared/engine/types';
import { t } from '../../../texts/texts';

export type Batch = Schemas['BatchOut'];
export type Form = Schemas['FormOut'];
export type Settling = Schemas['SettlingOut'];

/** What the engine is given of a batch's release; its shape is the engine's. */
export interface BatchRelease {
  hash: string;
  compiled: { words?: Record<string, Record<string, string>> };
  numbers: Record<string, number>;
}

/** A paper in somebody's hands. */
export interface Paper {
  form_id: number;
  number: string;
  turn: 1 | 2;
  content: { answers: Record<string, Json>; path: string | null };
}

const REFRESH_MS = 10_000;

export function useBatches(studyId: number) {
  return useQuery({
    queryKey: ['study', studyId, 'batches'],
    queryFn: () => ask(api.GET('/api/studies/{study_id}/batches', { params: { path: { study_id: studyId } } })),
    refetchInterval: REFRESH_MS,
  });
}

export const PAGE = 50;

/** What is asked of a batch's papers: one by its number, or a page of those in a state. */
export interface Asked {
  number?: string;
  state?: Form['state'] | '';
  page?: number;
}

export function useForms(studyId: number, batchId: number, { number = '', state = '', page = 1 }: Asked) {
  return useQuery({
    queryKey: ['study', studyId, 'batch', batchId, 'forms', number, state, page],
    queryFn: () =>
      ask(
        api.GET('/api/batches/{batch_id}/forms', {
          params: { path: { batch_id: batchId }, query: { number, state, offset: (page - 1) * PAGE, limit: PAGE } },
        }),
      ),
    placeholderData: keepPreviousData,
    refetchInterval: REFRESH_MS,
  });
}

export function useErrors(studyId: number, looked: boolean) {
  return useQuery({
    queryKey: ['study', studyId, 'keying errors'],
    queryFn: () => ask(api.GET('/api/studies/{study_id}/keying-errors', { params: { path: { study_id: studyId } } })),
    enabled: looked,
  });
}

export const fetchRelease = (batchId: number): Promise<BatchRelease> =>
  ask(
    api.GET('/api/batches/{batch_id}/release', { params: { path: { batch_id: batchId } } }) as Promise<{
      data?: BatchRelease;
    }>,
  );

export const FORM_STATES: Record<Form['state'], string> = {
  'being keyed': t('keying.beingKeyed'),
  'second to key': t('keying.secondToKey'),
  'being keyed again': t('keying.beingKeyedAgain'),
  'to settle': t('keying.waitsToBeSettled'),
  finished: t('keying.isFinished'),
};
