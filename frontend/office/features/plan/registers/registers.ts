// The register of a study at the desk: its kinds, its tree, its units, and what is done to them.
import { keepPreviousData, useMutation, useQueries, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../../../../shared/api/client';

export type UnitKind = Schemas['UnitKindOut'];
export type Field = Schemas['FieldOut'];
export type Unit = Schemas['UnitOut'];
export type FieldLine = Schemas['FieldLine'];
export type Line = Schemas['BranchLine'];
export type Branch = Schemas['Branch'];
export type Narrowing = Required<Schemas['Narrowing']>;
export type Condition = Schemas['Condition'];

/** Stands for the key where fields are named. */
export const KEY = '#key';
export const EVERYTHING: Narrowing = { kind: 0, below: 0, words: '', conditions: [], closed: false, faulty: false };

/** Whether it leaves something out besides what is closed. */
export const narrows = (narrowing: Narrowing): boolean =>
  narrowing.kind !== 0 ||
  narrowing.below !== 0 ||
  narrowing.words.trim() !== '' ||
  narrowing.conditions.length > 0 ||
  narrowing.faulty;

export const useKinds = (studyId: number, enabled = true) =>
  useQuery({
    enabled,
    queryKey: ['study', studyId, 'unit-kinds'],
    queryFn: () => ask(api.GET('/api/studies/{study_id}/unit-kinds', { params: { path: { study_id: studyId } } })),
  });

const branchOf = (studyId: number, narrowing: Narrowing, above: number, limit: number, deep: boolean) => ({
  queryKey: ['study', studyId, 'units', narrowing, above, limit, deep],
  queryFn: () =>
    ask(
      api.GET('/api/studies/{study_id}/units', {
        params: {
          path: { study_id: studyId },
          query: { above, limit, deep, narrowing: JSON.stringify(narrowing) },
        },
      }),
    ),
  placeholderData: keepPreviousData,
});

/** The outermost units that a narrowing leaves; all of the branches at once where that is not too much. */
export const useRoot = (studyId: number, narrowing: Narrowing, limit: number) =>
  useQuery(branchOf(studyId, narrowing, 0, limit, narrows(narrowing)));

/** The branches that are unfolded, by the unit that they hang under. */
export function useBranches(studyId: number, narrowing: Narrowing, unfolded: ReadonlyMap<number, number>) {
  const asked = [...unfolded];
  return useQueries({
    queries: asked.map(([above, limit]) => branchOf(studyId, narrowing, above, limit, false)),
    combine: (results) => {
      const found = new Map<number, Branch>();
      results.forEach(({ data }, at) => {
        const above = asked[at]?.[0];
        if (above !== undefined && data !== undefined) found.set(above, data);
      });
      return found;
    },
  });
}

export const useUnit = (studyId: number, unitId: number, on: string) =>
  useQuery({
    queryKey: ['study', studyId, 'unit', unitId, on],
    queryFn: () =>
      ask(
        api.GET('/api/units/{unit_id}', {
          params: { path: { unit_id: unitId }, query: on === '' ? {} : { on } },
        }),
      ),
    enabled: unitId > 0,
    placeholderData: keepPreviousData,
  });

export const usePoints = (studyId: number, narrowing: Narrowing) =>
  useQuery({
    queryKey: ['study', studyId, 'unit-points', narrowing],
    queryFn: () =>
      ask(
        api.GET('/api/studies/{study_id}/unit-points', {
          params: { path: { study_id: studyId }, query: { narrowing: JSON.stringify(narrowing) } },
        }),
      ),
    placeholderData: keepPreviousData,
  });

export type Doubt = Schemas['DoubtOut'];

/** The changes from phones that somebody has to decide. */
export const useDoubts = (studyId: number) =>
  useQuery({
    queryKey: ['study', studyId, 'unit-doubts'],
    queryFn: () => ask(api.GET('/api/studies/{study_id}/unit-doubts', { params: { path: { study_id: studyId } } })),
  });

/** Whose phones carry which branch. */
export const useShares = (studyId: number) =>
  useQuery({
    queryKey: ['study', studyId, 'branch-shares'],
    queryFn: () => ask(api.GET('/api/studies/{study_id}/branch-shares', { params: { path: { study_id: studyId } } })),
  });

export async function wayTo(studyId: number, unitId: number): Promise<number[]> {
  const path = { study_id: studyId, unit_id: unitId };
  return (await ask(api.GET('/api/studies/{study_id}/units/{unit_id}/way', { params: { path } }))).ids;
}

/** Something done to the register; whatever shows it is asked for again. */
export function useRegisterChange<Wanted, Answer>(studyId: number, act: (wanted: Wanted) => Promise<Answer>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: act,
    onSuccess: () =>
      Promise.all(
        ['units', 'unit', 'unit-points', 'unit-kinds', 'unit-doubts', 'branch-shares'].map((what) =>
          queries.invalidateQueries({ queryKey: ['study', studyId, what] }),
        ),
      ),
  });
}

const named = (unitId: number) => ({ params: { path: { unit_id: unitId } } });

export const acts = {
  make: (studyId: number) => (body: Schemas['UnitIn']) =>
    ask(api.POST('/api/studies/{study_id}/units', { params: { path: { study_id: studyId } }, body })),
  change: ({ id, changes }: { id: number; changes: Record<string, unknown[]> }) =>
    ask(api.PUT('/api/units/{unit_id}', { ...named(id), body: { changes } })),
  move: ({ id, above }: { id: number; above: number }) =>
    ask(api.POST('/api/units/{unit_id}/move', { ...named(id), body: { above } })),
  close: ({ id, why }: { id: number; why: string }) =>
    ask(api.POST('/api/units/{unit_id}/closing', { ...named(id), body: { why } })),
  merge: ({ id, into }: { id: number; into: number }) =>
    ask(api.POST('/api/units/{unit_id}/merge', { ...named(id), body: { into } })),
  decide: ({ id, ...body }: { id: number } & Schemas['DecideIn']) =>
    ask(api.POST('/api/unit-changes/{change_id}/decision', { params: { path: { change_id: id } }, body })),
  share: (studyId: number) => (body: Schemas['SharedWith']) =>
    ask(api.PUT('/api/studies/{study_id}/branch-shares', { params: { path: { study_id: studyId } }, body })),
  split: ({ id, key, below }: { id: number; key: string; below: number[] }) =>
    ask(api.POST('/api/units/{unit_id}/split', { ...named(id), body: { key, below } })),
};
