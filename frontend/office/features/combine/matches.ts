// Near matches of a table: pairs in doubt, decided one after the other while the server is a step behind.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useStudy } from '../../ui/study';

export type Matches = Schemas['MatchesOut'];
export type Pair = Schemas['PairOut'];
export type PairParts = Schemas['PairPartsOut'];
export type Verdict = Schemas['MatchIn']['decided'];

export const keyOf = (pair: { place: string; row: number }) => `${pair.place} ${String(pair.row)}`;

const pathOf = (id: number, outsideId: number) => ({ questionnaire_id: id, outside_id: outsideId });

export const useMatches = (id: number, outsideId: number) =>
  useQuery({
    queryKey: ['data', id, 'matches', outsideId],
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/matches', {
          params: { path: pathOf(id, outsideId) },
        }),
      ),
    placeholderData: (before) => before,
  });

export const usePair = (id: number, outsideId: number, pair: { place: string; row: number } | null) =>
  useQuery({
    queryKey: ['data', id, 'matches', outsideId, 'pair', pair && keyOf(pair)],
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/matches/pair', {
          params: { path: pathOf(id, outsideId), query: { place: pair?.place ?? '', row: pair?.row ?? 0 } },
        }),
      ),
    enabled: pair !== null,
  });

/** What is still in doubt, with what has been said here taken as kept already; and the ways to say it. */
export function useDeciding(id: number, outsideId: number, matches: Matches | undefined) {
  const queries = useQueryClient();
  const study = useStudy();
  const [said, setSaid] = useState<{ pair: Pair; verdict: Verdict }[]>([]);
  const refresh = async () => {
    await queries.invalidateQueries({ queryKey: ['data', id] });
    await queries.invalidateQueries({ queryKey: ['study', study.id, 'stations'] });
  };
  const path = pathOf(id, outsideId);
  const scope = { id: `matches of ${String(outsideId)}` };
  const decide = useMutation({
    scope,
    mutationFn: ({ pair, verdict }: { pair: Pair; verdict: Verdict }) =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/matches', {
          params: { path },
          body: { place: pair.place, row: pair.row, decided: verdict },
        }),
      ),
    onError: (_, { pair }) => {
      setSaid((now) => now.filter((one) => one.pair !== pair));
    },
    onSettled: refresh,
  });
  const undo = useMutation({
    scope,
    mutationFn: (decision: number) =>
      api.DELETE('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/matches/{decision_id}', {
        params: { path: { ...path, decision_id: decision } },
      }),
    onSettled: refresh,
  });
  const gone = (pair: Pair) =>
    said.some((one) => keyOf(one.pair) === keyOf(pair) || (one.verdict === 'same' && one.pair.place === pair.place));
  return {
    open: (matches?.doubtful ?? []).filter((pair) => !gone(pair)),
    say: (pair: Pair, verdict: Verdict) => {
      setSaid((now) => [...now, { pair, verdict }]);
      decide.mutate({ pair, verdict });
    },
    takeBack: (decision: number) => {
      setSaid([]);
      undo.mutate(decision);
    },
    error: decide.error ?? undo.error,
    isBusy: decide.isPending || undo.isPending,
  };
}
