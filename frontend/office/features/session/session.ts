import { useMutation, useQuery, useQueryClient, type QueryClient } from '@tanstack/react-query';
import { api, ask, setCsrfToken, type Schemas } from '../../../shared/api/client';

export const sessionKey = ['session'];

async function kept(call: Promise<{ data?: Schemas['Who'] }>): Promise<Schemas['Who']> {
  const who = await ask(call);
  setCsrfToken(who.csrf_token);
  return who;
}

/** Whoever comes next sees nothing of what the one before had loaded. */
function changeWho(queries: QueryClient, who: Schemas['Who']) {
  queries.removeQueries({ predicate: (query) => query.queryKey[0] !== sessionKey[0] });
  queries.setQueryData(sessionKey, who);
}

export function useSession() {
  return useQuery({ queryKey: sessionKey, queryFn: () => kept(api.GET('/api/session')), staleTime: 60_000 });
}

export function useSignIn() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas['SignIn']) => kept(api.POST('/api/session', { body })),
    onSuccess: (who) => {
      changeWho(queries, who);
    },
  });
}

/** Something that signs in: by a link, or as the first one of a new server. */
export function useWayIn<Body>(enter: (body: Body) => Promise<{ data?: Schemas['Who'] }>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: Body) => kept(enter(body)),
    onSuccess: (who) => {
      changeWho(queries, who);
    },
  });
}

export function useSignOut() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => kept(api.DELETE('/api/session')),
    onSuccess: (who) => {
      changeWho(queries, who);
      window.history.replaceState(null, '', '/');
    },
  });
}
