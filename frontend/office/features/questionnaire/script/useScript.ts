// The draft in the page: edits with undo, kept on the server by itself, with what the checker says of it.
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useReducer, useRef } from 'react';
import { Problem, api, ask, type Schemas } from '../../../../shared/api/client';
import { merge, type Clash } from './merge';
import type { Script } from './model';
import { fromDraft, reduce } from './scriptState';

const SAVE_AFTER_MS = 450;
const RETRY_MS = 4_000;

const fetchDraft = (id: number) =>
  ask(api.GET('/api/questionnaires/{questionnaire_id}', { params: { path: { questionnaire_id: id } } }));

const putScript = (id: number, script: Script, version: number) =>
  ask(
    api.PUT('/api/questionnaires/{questionnaire_id}/script', {
      params: { path: { questionnaire_id: id } },
      body: { version, script },
    }),
  );

const isMeanwhile = (error: unknown): boolean => error instanceof Problem && error.code === 'changed_meanwhile';

/** The last edit of a page that is being left, merged with what somebody else has saved meanwhile. */
async function keepLast(id: number, base: Script, script: Script, version: number): Promise<void> {
  try {
    await putScript(id, script, version);
  } catch (error) {
    if (!isMeanwhile(error)) throw error;
    const theirs = await fetchDraft(id);
    await keepLast(id, theirs.script, merge(base, script, theirs.script).script, theirs.version);
  }
}

export function useScript(draft: Schemas['Draft']) {
  const [state, dispatch] = useReducer(reduce, draft, fromDraft);
  const queries = useQueryClient();
  const busy = useRef(false);
  const id = draft.id;

  const takeTheirs = useCallback(async () => {
    dispatch({ type: 'theirs', draft: await fetchDraft(id) });
  }, [id]);

  const save = useCallback(
    async (script: Script, version: number) => {
      if (busy.current) return;
      busy.current = true;
      dispatch({ type: 'saving' });
      const keep = async () => {
        try {
          dispatch({ type: 'saved', script, answer: await putScript(id, script, version) });
        } catch (error) {
          if (!isMeanwhile(error)) throw error;
          await takeTheirs();
        }
      };
      try {
        await keep();
      } catch (error) {
        const save = error instanceof Problem && error.code === 'unreachable' ? 'unreachable' : 'refused';
        dispatch({ type: 'failed', save, problem: error instanceof Error ? error.message : String(error) });
      } finally {
        busy.current = false;
      }
    },
    [id, takeTheirs],
  );

  useEffect(() => {
    if (state.save !== 'waiting' && state.save !== 'unreachable') return;
    const timer = window.setTimeout(
      () => void save(state.script, state.version),
      state.save === 'waiting' ? SAVE_AFTER_MS : RETRY_MS,
    );
    return () => {
      window.clearTimeout(timer);
    };
  }, [state.save, state.script, state.version, save]);

  const undecided = state.clashes.length > 0;
  useEffect(() => {
    if (state.save === 'saved') {
      void queries.invalidateQueries({ queryKey: ['study', draft.study_id, 'stations'] });
      if (!undecided) return;
    }
    const warn = (event: BeforeUnloadEvent) => {
      event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => {
      window.removeEventListener('beforeunload', warn);
    };
  }, [state.save, undecided, queries, draft.study_id]);

  // Leaving the page keeps the last edit, and the next visit loads what is on the server.
  const latest = useRef(state);
  useEffect(() => {
    latest.current = state;
  });
  useEffect(
    () => () => {
      const { save: at, savedScript, script, version } = latest.current;
      const leave = at === 'waiting' ? keepLast(id, savedScript, script, version) : Promise.resolve();
      void leave.then(() => queries.invalidateQueries({ queryKey: ['draft', id] }));
    },
    [queries, id],
  );

  /** A script, or what to make of the present one; edits of the same `what` that follow each other are undone at once. */
  const edit = useCallback((to: Script | ((script: Script) => Script), what = '') => {
    dispatch({ type: 'edit', change: typeof to === 'function' ? to : () => to, what, at: Date.now() });
  }, []);
  /** What the server says is kept; a newer one than mine was written by somebody else. */
  const heard = useCallback(
    (version: number) => {
      if (version > latest.current.version && !busy.current) void takeTheirs().catch(() => undefined);
    },
    [takeTheirs],
  );
  return {
    ...state,
    edit,
    /** The script as it is at this moment, for what answers later than it was asked. */
    current: useCallback(() => latest.current.script, []),
    heard,
    undo: useCallback(() => {
      dispatch({ type: 'undo' });
    }, []),
    redo: useCallback(() => {
      dispatch({ type: 'redo' });
    }, []),
    released: useCallback(() => {
      dispatch({ type: 'released' });
    }, []),
    /** Translations were found to be right still; what is left out of date. */
    confirmed: useCallback((outdated: Schemas['Saved']['outdated']) => {
      dispatch({ type: 'confirmed', outdated });
    }, []),
    /** The same script is judged otherwise: a finding was set aside, the standard of the study changed. */
    judgedAnew: useCallback((draft: Schemas['Draft']) => {
      dispatch({ type: 'judged anew', draft });
    }, []),
    /** Ask what the checker says of the script as it is kept. */
    askAgain: useCallback(async () => {
      dispatch({ type: 'judged anew', draft: await fetchDraft(id) });
    }, [id]),
    settle: useCallback((clash: Clash) => {
      dispatch({ type: 'settled', clash });
    }, []),
  };
}

export type ScriptEditor = ReturnType<typeof useScript>;
