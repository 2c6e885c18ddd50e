// The draft in the page: edits with undo, kept on the server by itself, with what the checker says of it.
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useReducer, useRef } from 'react';
import { Problem, api, ask, type Schemas } from '../../../shared/api/client';
import type { Finding, Script } from './model';

const SAVE_AFTER_MS = 450;
const RETRY_MS = 4_000;
const SAME_EDIT_MS = 1_200;
const MOST_UNDO = 300;

export type SaveState = 'saved' | 'waiting' | 'saving' | 'unreachable' | 'conflict' | 'refused';

interface State {
  script: Script;
  version: number;
  savedScript: Script;
  changedAt: string;
  findings: Finding[];
  release: Record<string, unknown> | null;
  releaseHash: string | null;
  sameAsNewest: boolean;
  past: Script[];
  future: Script[];
  lastEdit: { what: string; at: number };
  save: SaveState;
  problem: string;
}

type Action =
  | { type: 'edit'; script: Script; what: string; at: number }
  | { type: 'undo' }
  | { type: 'redo' }
  | { type: 'saving' }
  | { type: 'saved'; script: Script; answer: Schemas['Saved'] }
  | { type: 'failed'; save: SaveState; problem: string }
  | { type: 'rebase'; version: number }
  | { type: 'released' }
  | { type: 'load'; draft: Schemas['Draft'] };

function fromDraft(draft: Schemas['Draft']): State {
  return {
    script: draft.script,
    version: draft.version,
    savedScript: draft.script,
    changedAt: draft.changed_at,
    findings: draft.findings,
    release: draft.release,
    releaseHash: draft.release_hash,
    sameAsNewest: draft.same_as_newest,
    past: [],
    future: [],
    lastEdit: { what: '', at: 0 },
    save: 'saved',
    problem: '',
  };
}

function reduce(state: State, action: Action): State {
  switch (action.type) {
    case 'edit': {
      const goesOn =
        action.what !== '' && action.what === state.lastEdit.what && action.at - state.lastEdit.at < SAME_EDIT_MS;
      const past = goesOn ? state.past : [...state.past, state.script].slice(-MOST_UNDO);
      return {
        ...state,
        script: action.script,
        past,
        future: [],
        lastEdit: { what: action.what, at: action.at },
        save: 'waiting',
      };
    }
    case 'undo': {
      const before = state.past.at(-1);
      if (!before) return state;
      return {
        ...state,
        script: before,
        past: state.past.slice(0, -1),
        future: [state.script, ...state.future],
        lastEdit: { what: '', at: 0 },
        save: 'waiting',
      };
    }
    case 'redo': {
      const [after, ...rest] = state.future;
      if (!after) return state;
      return {
        ...state,
        script: after,
        past: [...state.past, state.script],
        future: rest,
        lastEdit: { what: '', at: 0 },
        save: 'waiting',
      };
    }
    case 'saving':
      return { ...state, save: 'saving' };
    case 'saved': {
      const { answer } = action;
      return {
        ...state,
        version: answer.version,
        savedScript: action.script,
        changedAt: answer.changed_at,
        findings: answer.findings,
        release: answer.release ?? state.release,
        releaseHash: answer.release_hash ?? state.releaseHash,
        sameAsNewest: answer.same_as_newest,
        save: state.script === action.script ? 'saved' : 'waiting',
        problem: '',
      };
    }
    case 'failed':
      return { ...state, save: action.save, problem: action.problem };
    case 'rebase':
      return { ...state, version: action.version, save: 'waiting', problem: '' };
    case 'released':
      return { ...state, sameAsNewest: state.save === 'saved' };
    case 'load':
      return fromDraft(action.draft);
  }
}

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
