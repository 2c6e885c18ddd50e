// Samples at the desk: how large, from which frame, drawn, drawn again.
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';

export type Sample = Schemas['SampleOut'];
export type Frame = Schemas['FrameIn'];
export type FrameTold = Schemas['FrameOut'];
export type Plan = Schemas['SamplePlan'];
export type By = Plan['by'];

export const NONE: Frame = { units: null, table: null };
/** A plan that reads no column. */
export const BLANK = {
  strata: '',
  allocate: 'proportional' as const,
  spread: '',
  measure: '',
  cluster: '',
  clusters: 0,
  reserves: 0,
};

export const WAYS: Record<By, { name: string; means: string }> = {
  simple: { name: t('samples.simple'), means: t('samples.simpleMeans') },
  systematic: { name: t('samples.systematic'), means: t('samples.systematicMeans') },
  stratified: { name: t('samples.stratified'), means: t('samples.stratifiedMeans') },
  pps: { name: t('samples.bySize'), means: t('samples.bySizeMeans') },
  'two-stage': { name: t('samples.twoStages'), means: t('samples.twoStagesMean') },
};

export const useSamples = (studyId: number) =>
  useQuery({
    queryKey: ['study', studyId, 'samples'],
    queryFn: () => ask(api.GET('/api/studies/{study_id}/samples', { params: { path: { study_id: studyId } } })),
  });

export const useSample = (sampleId: number) =>
  useQuery({
    queryKey: ['sample', sampleId],
    queryFn: () => ask(api.GET('/api/samples/{sample_id}', { params: { path: { sample_id: sampleId } } })),
    enabled: sampleId > 0,
  });

export const useSampleUnits = (
  sampleId: number,
  query: { reserves: boolean; stratum: string; offset: number; limit: number },
) =>
  useQuery({
    queryKey: ['sample', sampleId, 'units', query],
    queryFn: () => ask(api.GET('/api/samples/{sample_id}/units', { params: { path: { sample_id: sampleId }, query } })),
    placeholderData: keepPreviousData,
  });

export const useFrame = (studyId: number, frame: Frame | null) =>
  useQuery({
    queryKey: ['study', studyId, 'frame', frame],
    queryFn: () =>
      ask(
        api.POST('/api/studies/{study_id}/sample-frames', {
          params: { path: { study_id: studyId } },
          body: frame ?? NONE,
        }),
      ),
    enabled: frame !== null,
    placeholderData: keepPreviousData,
    retry: false,
  });

export const useTrial = (studyId: number, frame: Frame | null, plan: Plan | null) =>
  useQuery({
    queryKey: ['study', studyId, 'sample-trial', frame, plan],
    queryFn: () =>
      ask(
        api.POST('/api/studies/{study_id}/sample-trials', {
          params: { path: { study_id: studyId } },
          body: { name: '', frame: frame ?? NONE, plan: plan ?? { ...BLANK, by: 'simple', size: 1, seed: 0 } },
        }),
      ),
    enabled: frame !== null && plan !== null,
    placeholderData: keepPreviousData,
    retry: false,
  });
