// Which column of an outside table may be which variable, by the values that meet.
import { useQuery } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../../../shared/api/client';
import type { Variable } from '../data';
import type { Join, Near, Outside } from './outside';

export type PossibleKey = Schemas['ProposedKeyOut'];
type Compared = Near['compare'][number];

export function usePossibleKeys(id: number, table: Outside, into: string) {
  return useQuery({
    queryKey: ['data', id, 'possible keys', table.id, table.version, into],
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/keys', {
          params: { path: { questionnaire_id: id, outside_id: table.id }, query: { into } },
        }),
      ),
    retry: false,
  });
}

const NINE_IN_TEN = 3.17;
const HOW_BY_MEASURE: Record<string, Compared['how']> = { date: 'date', number: 'whole', code: 'exact' };

/** How a variable of some measure is compared, to begin with. */
export const howOf = (measure: string | undefined): Compared['how'] => HOW_BY_MEASURE[measure ?? ''] ?? 'text';

/** What is compared to begin with: what meets besides the keys; codes that agree bring rows together. */
export function firstNear(join: Join, possible: PossibleKey[], variables: Variable[]): Near {
  const used = new Set(join.keys.map((pair) => pair.ours));
  const measureOf = (name: string) => variables.find(({ variable }) => variable === name)?.measure;
  const compare = possible
    .filter(({ pair }) => !used.has(pair.ours))
    .map(({ pair }) => ({ ours: pair.ours, theirs: pair.theirs, how: howOf(measureOf(pair.ours)), words: pair.words }));
  return {
    compare: compare.length > 0 ? compare : [{ ours: '', theirs: '', how: 'text', words: '' }],
    blocks: compare.filter(({ how }) => how === 'exact').map(({ ours }) => [ours]),
    match: NINE_IN_TEN,
    apart: -NINE_IN_TEN,
    once: false,
    learnt: null,
  };
}
