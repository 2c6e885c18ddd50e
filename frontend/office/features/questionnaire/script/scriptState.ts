// The draft as a state: what was edited, what is kept, what can be undone.
import type { Schemas } from '../../../../shared/api/client';
import type { Finding, Script } from './model';

const SAME_EDIT_MS = 1_200;
const MOST_UNDO = 300;

export type SaveState = 'saved' | 'waiting' | 'saving' | 'unreachable' | 'conflict' | 'refused';

export interface State {
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

export type Action =
  | { type: 'edit'; script: Script; what: string; at: number }
  | { type: 'undo' }
  | { type: 'redo' }
  | { type: 'saving' }
  | { type: 'saved'; script: Script; answer: Schemas['Saved'] }
  | { type: 'failed'; save: SaveState; problem: string }
  | { type: 'rebase'; version: number }
  | { type: 'released' }
  | { type: 'load'; draft: Schemas['Draft'] };

export function fromDraft(draft: Schemas['Draft']): State {
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

export function reduce(state: State, action: Action): State {
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
