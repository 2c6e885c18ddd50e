// What the field station asks of a study: its phones, open codes and profiles; and what is amiss with a phone, in words.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { t } from '../../texts/texts';

export type Phone = Schemas['PhoneOut'];
export type Profile = Schemas['ProfileOut'];
export type Settings = Schemas['FieldProfile'];
export type Code = Schemas['PairingOut'];

const REFRESH_MS = 10_000;

const keyOf = (studyId: number, what: string) => ['study', studyId, what];

export function usePhones(studyId: number) {
  return useQuery({
    queryKey: keyOf(studyId, 'devices'),
    queryFn: () => ask(api.GET('/api/studies/{study_id}/devices', { params: { path: { study_id: studyId } } })),
    refetchInterval: REFRESH_MS,
  });
}

export function useOpenCodes(studyId: number, mayManage: boolean) {
  return useQuery({
    queryKey: keyOf(studyId, 'codes'),
    enabled: mayManage,
    queryFn: () => ask(api.GET('/api/studies/{study_id}/pairing-codes', { params: { path: { study_id: studyId } } })),
    refetchInterval: REFRESH_MS,
  });
}

export function useProfiles(studyId: number) {
  return useQuery({
    queryKey: keyOf(studyId, 'profiles'),
    queryFn: () => ask(api.GET('/api/studies/{study_id}/field-profiles', { params: { path: { study_id: studyId } } })),
  });
}

/** Something done at the field station, after which its lists are asked for again. */
export function useFieldChange<Body, Answer>(studyId: number, change: (body: Body) => Promise<Answer>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSuccess: () => queries.invalidateQueries({ queryKey: ['study', studyId] }),
  });
}

const MINUTE = 60;
const HOUR = 3600;
const DAY = 24 * HOUR;

/** A length of time in the one unit that says it best. */
function long(seconds: number): string {
  const length = Math.abs(seconds);
  if (length < 2 * HOUR) return t('field.minutesLong', { n: Math.round(length / MINUTE) });
  if (length < 2 * DAY) return t('field.hoursLong', { n: Math.round(length / HOUR) });
  return t('field.daysLong', { n: Math.round(length / DAY) });
}

export type Doubt = Schemas['Doubt'];

/** What is amiss, in words; those that want somebody at once first. */
export function doubtWords({ kind, figure }: Doubt): string {
  const n = figure ?? 0;
  switch (kind) {
    case 'locked out':
      return t('field.doubtLockedOut');
    case 'wipe ordered':
      return t('field.doubtWipeOrdered');
    case 'silent':
      return t('field.doubtSilent', { n });
    case 'never heard':
      return t('field.doubtNeverHeard');
    case 'clock':
      return n > 0 ? t('field.doubtClockAhead', { long: long(n) }) : t('field.doubtClockBehind', { long: long(n) });
    case 'full':
      return t('field.doubtFull', { n });
    case 'older release':
      return t('field.doubtOlderRelease', { n });
    case 'older build':
      return t('field.doubtOlderBuild');
    case 'may be cleared':
      return t('field.doubtMayBeCleared');
  }
}

/** Those that cannot wait. */
export const isPressing = ({ kind }: Doubt): boolean => ['locked out', 'silent', 'wipe ordered'].includes(kind);
