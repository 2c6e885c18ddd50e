// A recipe as it is written on the page, and what is asked of the server about it.
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Problem, api, ask, type Schemas } from '../../../../shared/api/client';
import { againWhilePrepared } from '../../../ui/states';
import { useStudy } from '../../../ui/study';
import { useSettled } from '../../../ui/useSettled';
import type { SetSource } from '../../dataSets';

export type Recipe = Schemas['Recipe'];
export type Source = Recipe['sources'][number];
export type Derived = Recipe['derived'][number];
export type LeavesOut = Recipe['left_out'][number];
export type Turn = Recipe['turned'][number];
export type Made = Schemas['MadeOut'];
export type Pairing = Schemas['Pairing'];

/** All rows of an outside table, or those of nobody. */
export type Only = Source['only'];

export const sourceOf = (questionnaire: number, outside: number | null = null, only: Only = 'all'): Source => ({
  questionnaire,
  outside,
  only,
  called: '',
  releases: [],
  since: null,
  until: null,
  names: {},
  codes: {},
});

/** What the rows of a source are called. */
export function titleOf(source: Source, sources: SetSource[]): string {
  const known = sources.find((one) => one.questionnaire === source.questionnaire);
  const outside = known?.outside.find((one) => one.id === source.outside);
  return source.called || (outside?.name ?? known?.title ?? '');
}

/** What can be tried: lines that nothing was written in yet are passed over. */
export const written = (recipe: Recipe): Recipe => ({
  ...recipe,
  derived: recipe.derived.filter((line) => line.into.trim() !== '' && line.formula.trim() !== ''),
  left_out: recipe.left_out.filter((line) => line.rule.trim() !== ''),
  turned: recipe.turned.filter((turn) =>
    turn.how === 'wide' ? turn.variables.length > 0 : Object.values(turn.columns).some((taken) => taken.length > 0),
  ),
});

/** What a recipe makes, asked once the typing has settled; `last` is what it made when it last fitted. */
export function useTried(recipe: Recipe) {
  const study = useStudy();
  const [last, setLast] = useState<Made | null>(null);
  const settled = useSettled(JSON.stringify(written(recipe)));
  const tried = useQuery({
    queryKey: ['recipe', study.id, settled],
    queryFn: () =>
      ask(
        api.POST('/api/studies/{study_id}/data-sets/try', {
          params: { path: { study_id: study.id } },
          body: { recipe: JSON.parse(settled) as Recipe },
        }),
      ),
    placeholderData: (before) => before,
    retry: false,
    refetchInterval: againWhilePrepared,
  });
  if (tried.data && tried.data !== last) setLast(tried.data);
  return { ...tried, last };
}

/** The line of the recipe that an error is about. */
export interface Wrong {
  part: string;
  line: number;
  words: string;
}

export const wrongIn = (error: unknown): Wrong | null =>
  error instanceof Problem && typeof error.details.part === 'string' && typeof error.details.line === 'number'
    ? { part: error.details.part, line: error.details.line, words: error.message }
    : null;

/** The place in the recipe of the `line`th that is written, of lines of which some are still empty. */
export function placeOf(recipe: Recipe, wrong: Wrong | null, part: 'derived' | 'left_out' | 'turned'): number | null {
  if (wrong?.part !== part) return null;
  const lines: unknown[] = recipe[part];
  const kept: unknown[] = written(recipe)[part];
  return lines.indexOf(kept[wrong.line]);
}

export const put = <Line>(lines: Line[], at: number, line: Line): Line[] =>
  lines.map((old, place) => (place === at ? line : old));
export const without = <Line>(lines: Line[], at: number): Line[] => lines.filter((_, place) => place !== at);
