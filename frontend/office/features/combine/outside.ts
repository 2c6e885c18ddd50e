// Outside tables of a questionnaire: what they are, how they join, what is asked of them.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useStudy } from '../../ui/study';
import { t } from '../../texts/texts';

export type Outside = Schemas['OutsideOut'];
export type Joined = Schemas['JoinedOut'];
export type Join = Schemas['Join'];
export type Report = Schemas['JoinReportOut'];
export type ColumnLook = Schemas['ColumnLook'];
export type OutsideColumn = Schemas['OutsideColumn'];
export type KeyPair = Schemas['KeyPair'];
export type Near = Schemas['Near'];

const of = (id: number) => ({ params: { path: { questionnaire_id: id } } });

export const useOutsides = (id: number) =>
  useQuery({
    queryKey: ['data', id, 'outside'],
    queryFn: () => ask(api.GET('/api/questionnaires/{questionnaire_id}/outside', of(id))),
  });

export const useJoins = (id: number) =>
  useQuery({
    queryKey: ['data', id, 'joins'],
    queryFn: () => ask(api.GET('/api/questionnaires/{questionnaire_id}/joins', of(id))),
  });

/** An act upon a table; what depends on the data set is asked again. */
export function useAct<Given, Made>(id: number, act: (given: Given) => Promise<Made>, then?: (made: Made) => void) {
  const queries = useQueryClient();
  const study = useStudy();
  return useMutation({
    mutationFn: act,
    onSuccess: async (made) => {
      then?.(made);
      await queries.invalidateQueries({ queryKey: ['data', id] });
      await queries.invalidateQueries({ queryKey: ['study', study.id, 'stations'] });
    },
  });
}

/** How a column is read. */
export const READ_AS: Record<OutsideColumn['read_as'], string> = {
  text: t('combine.readText'),
  code: t('combine.readCode'),
  number: t('combine.readNumber'),
  date: t('combine.readDate'),
  'date-time': t('combine.readDateTime'),
  'yes/no': t('combine.readYesNo'),
};

/** What is not told apart in a key. */
export const ALIKE: Record<string, string> = {
  case: t('combine.alikeCase'),
  blanks: t('combine.alikeBlanks'),
  accents: t('combine.alikeAccents'),
  zeros: t('combine.alikeZeros'),
  signs: t('combine.alikeSigns'),
};

/** How two cells are compared. */
export const HOW: Record<string, string> = {
  text: t('combine.howText'),
  date: t('combine.howDate'),
  number: t('combine.howNumber'),
  whole: t('combine.howWhole'),
  exact: t('combine.howExact'),
};

/** A share of twenty, as it is said of pairs that are about as likely. */
export const inTwenty = (chance: number) => Math.min(20, Math.max(0, Math.round(chance * 20)));

export const signed = (bits: number) => `${bits > 0 ? '+' : bits < 0 ? '−' : ''}${Math.abs(bits).toFixed(1)}`;
