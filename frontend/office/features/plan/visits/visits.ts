// Visits at the desk: lists of them, who goes, what became of each attempt, rates.
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { outcomeWords, type Class, type Outcome } from '../../../../shared/map/outcomes';
import { locale, t } from '../../../texts/texts';

export type VisitList = Schemas['VisitListOut'];
export type Visit = Schemas['VisitOut'];
export type VisitLine = Schemas['VisitLine'];
export type Standing = VisitLine['standing'];
export { lookOfClass, lookOfOutcome as lookOf } from '../../../../shared/map/outcomes';
export type { Class, Outcome };
export type Which = Required<Omit<Schemas['Which'], 'ids'>>;
export type Share = Schemas['Share'];
export type By = 'list' | 'team' | 'person' | 'area';

/** Stands for nobody where a person is asked for. */
export const NOBODY = 0;
export const ALL: Which = { standing: null, person_id: null, outcome: '', area: '', words: '' };

export const STANDINGS: Record<Standing, string> = {
  open: t('visits.standOpen'),
  'to pass on': t('visits.standToPassOn'),
  'tried enough': t('visits.standTriedEnough'),
  ended: t('visits.standEnded'),
};

export const CLASSES: Record<Class, string> = {
  interview: t('visits.classInterview'),
  partial: t('visits.classPartial'),
  refusal: t('visits.classRefusal'),
  'non-contact': t('visits.classNonContact'),
  other: t('visits.classOther'),
  unknown: t('visits.classUnknown'),
  'not eligible': t('visits.classNotEligible'),
};

export const CLASS_ORDER = Object.keys(CLASSES) as Class[];

/** What an outcome is called here. */
export const called = (outcomes: readonly Outcome[], code: string): string =>
  code === '' ? t('visits.notYet') : outcomeWords(outcomes, code, locale);

const inList = (listId: number) => ({ path: { list_id: listId } });
const inStudy = (studyId: number) => ({ params: { path: { study_id: studyId } } });

export const useLists = (studyId: number, enabled = true) =>
  useQuery({
    enabled,
    queryKey: ['study', studyId, 'visit-lists'],
    queryFn: () => ask(api.GET('/api/studies/{study_id}/visit-lists', inStudy(studyId))),
  });

export const useOutcomes = (studyId: number) =>
  useQuery({
    queryKey: ['study', studyId, 'outcomes'],
    queryFn: () => ask(api.GET('/api/studies/{study_id}/outcomes', inStudy(studyId))),
  });

export const useList = (listId: number) =>
  useQuery({
    queryKey: ['visits', listId, 'list'],
    queryFn: () => ask(api.GET('/api/visit-lists/{list_id}', { params: inList(listId) })),
  });

/** What of a narrowing is asked of the office. */
const asked = ({ standing, person_id, outcome, area, words }: Which) => ({ standing, person_id, outcome, area, words });

export const useVisits = (listId: number, which: Which, offset: number, limit: number) =>
  useQuery({
    queryKey: ['visits', listId, 'page', which, offset, limit],
    queryFn: () =>
      ask(
        api.GET('/api/visit-lists/{list_id}/visits', {
          params: { ...inList(listId), query: { ...asked(which), offset, limit } },
        }),
      ),
    placeholderData: keepPreviousData,
  });

export const usePoints = (listId: number, which: Which) =>
  useQuery({
    queryKey: ['visits', listId, 'points', which],
    queryFn: () =>
      ask(
        api.GET('/api/visit-lists/{list_id}/points', {
          params: { ...inList(listId), query: { ...asked(which), offset: 0, limit: 1 } },
        }),
      ),
    placeholderData: keepPreviousData,
  });

export const useVisit = (listId: number, visitId: number) =>
  useQuery({
    queryKey: ['visits', listId, 'visit', visitId],
    queryFn: () => ask(api.GET('/api/visits/{visit_id}', { params: { path: { visit_id: visitId } } })),
    enabled: visitId > 0,
    placeholderData: keepPreviousData,
  });

export const useRates = (listId: number, by: By) =>
  useQuery({
    queryKey: ['visits', listId, 'rates', by],
    queryFn: () => ask(api.GET('/api/visit-lists/{list_id}/rates', { params: { ...inList(listId), query: { by } } })),
    placeholderData: keepPreviousData,
  });

/** Something done to visits; whatever shows them is asked for again. */
export function useVisitAct<Wanted, Answer>(studyId: number, act: (wanted: Wanted) => Promise<Answer>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: act,
    onSuccess: () =>
      Promise.all([
        queries.invalidateQueries({ queryKey: ['visits'] }),
        queries.invalidateQueries({ queryKey: ['study', studyId, 'visit-lists'] }),
        queries.invalidateQueries({ queryKey: ['study', studyId, 'outcomes'] }),
      ]),
  });
}

const ofVisit = (visitId: number) => ({ params: { path: { visit_id: visitId } } });

export const acts = {
  make: (studyId: number) => (body: Schemas['VisitListIn']) =>
    ask(api.POST('/api/studies/{study_id}/visit-lists', { ...inStudy(studyId), body })),
  change: ({ id, body }: { id: number; body: Schemas['VisitListChange'] }) =>
    ask(api.PUT('/api/visit-lists/{list_id}', { params: inList(id), body })),
  remove: (id: number) => ask(api.DELETE('/api/visit-lists/{list_id}', { params: inList(id) })),
  outcomes: (studyId: number) => (body: Schemas['OutcomesIn']) =>
    ask(api.PUT('/api/studies/{study_id}/outcomes', { ...inStudy(studyId), body })),
  propose: ({ id, body }: { id: number; body: Schemas['SharesWanted'] }) =>
    ask(api.POST('/api/visit-lists/{list_id}/proposals', { params: inList(id), body })),
  give: ({ id, shares, version }: { id: number; shares: Share[]; version: number }) =>
    ask(api.PUT('/api/visit-lists/{list_id}/shares', { params: inList(id), body: { shares, version } })),
  reserves: ({ id, instead, version }: { id: number; instead: number[]; version: number }) =>
    ask(
      api.POST('/api/visit-lists/{list_id}/reserves', {
        params: inList(id),
        body: { instead_of: instead, version },
      }),
    ),
  remark: ({ id, remark }: { id: number; remark: string }) =>
    ask(api.PUT('/api/visits/{visit_id}', { ...ofVisit(id), body: { remark } })),
  attempt: ({ id, body }: { id: number; body: Schemas['AttemptIn'] }) =>
    ask(api.POST('/api/visits/{visit_id}/attempts', { ...ofVisit(id), body })),
  takeBack: ({ id, why }: { id: number; why: string }) =>
    ask(
      api.POST('/api/attempts/{attempt_id}/taking-back', {
        params: { path: { attempt_id: id } },
        body: { why },
      }),
    ),
};
