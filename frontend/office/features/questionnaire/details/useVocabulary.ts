import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { api, ask } from '../../../../shared/api/client';
import type { Part, Script } from '../script/model';
import type { Vocabulary } from './completion';

const NONE: Vocabulary['functions'] = [];

/** What a rule of this line can speak of. */
export function useVocabulary(script: Script, part: Part | undefined): Vocabulary {
  const words = useQuery({
    queryKey: ['rule-words'],
    queryFn: () => ask(api.GET('/api/rule-words')),
    staleTime: Infinity,
  });
  const functions = words.data ?? NONE;
  return useMemo(() => ({ script, part, functions }), [script, part, functions]);
}
