// The draft in the page: edits with undo, kept on the server by itself, with what the checker says of it.
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useReducer, useRef } from 'react';
import { Problem, api, ask, type Schemas } from '../../../../shared/api/client';
import type { Script } from './model';
import { fromDraft, reduce } from './scriptState';

const SAVE_AFTER_MS = 450;
const RETRY_MS = 4_000;
export function useScript(draft: Schemas['Draft']) {
  const [state, dispatch] = useReducer(reduce, draft, fromDraft);
  const queries = useQueryClient();
  const busy = useRef(false);
  const id = draft.id;

  const save = useCallback(
    async (script: Script, version: number) => {
      if (busy.current) return;
      busy.current = true;
      dispatch({ type: 'saving' });
      try {
        const answer = await ask(
          api.PUT('/api/questionnaires/{questionnaire_id}/script', {
            params: { path: { questionnaire_id: id } },
            body: { version, script },
          }),
        );
        dispatch({ type: 'saved', script, answer });
      } catch (error) {
        const code = error instanceof Problem ? error.code : '';
        const problem = error instanceof Error ? error.message : String(error);
        dispatch({
          type: 'failed',
          save: code === 'unreachable' ? 'unreachable' : code === 'changed_meanwhile' ? 'conflict' : 'refused',
          problem,
        });
      } finally {
        busy.current = false;
      }
    },
    [id],
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

  useEffect(() => {
    if (state.save === 'saved') {
      void queries.invalidateQueries({ queryKey: ['study', draft.study_id, 'stations'] });
      return;
    }
    const warn = (event: BeforeUnloadEvent) => {
      event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => {
      window.removeEventListener('beforeunload', warn);
    };
  }, [state.save, queries, draft.study_id]);

  // Leaving the page keeps the last edit, and the next visit loads what is on the server.
  const latest = useRef(state);
  useEffect(() => {
    latest.current = state;
  });
  useEffect(
    () => () => {
      const { save: at, script, version } = latest.current;
      const leave = at === 'waiting' ? save(script, version) : Promise.resolve();
      void leave.then(() => queries.invalidateQueries({ queryKey: ['draft', id] }));
    },
    [save, queries, id],
  );

  const edit = useCallback((script: Script, what = '') => {
    dispatch({ type: 'edit', script, what, at: Date.now() });
  }, []);
  const reload = async (keepMine: boolean) => {
    const fresh = await ask(
      api.GET('/api/questionnaires/{questionnaire_id}', { params: { path: { questionnaire_id: id } } }),
    );
    dispatch(keepMine ? { type: 'rebase', version: fresh.version } : { type: 'load', draft: fresh });
  };
  return {
    ...state,
    edit,
    undo: useCallback(() => {
      dispatch({ type: 'undo' });
    }, []),
    redo: useCallback(() => {
      dispatch({ type: 'redo' });
    }, []),
    released: useCallback(() => {
      dispatch({ type: 'released' });
    }, []),
    reload,
  };
}

export type ScriptEditor = ReturnType<typeof useScript>;
