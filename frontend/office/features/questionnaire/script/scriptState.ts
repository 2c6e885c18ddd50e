// The draft as a state: what was edited, what is kept, what can be undone, what somebody else changed meanwhile.
import type { Schemas } from '../../../../shared/api/client';
import { merge, same, type Clash } from './merge';
import type { Finding, Script } from './model';

const SAME_EDIT_MS = 1_200;
const MOST_UNDO = 300;

export type SaveState = 'saved' | 'waiting' | 'saving' | 'unreachable' | 'refused';

interface Edit {
  before: Script;
  after: Script;
}

/** `clashes` are fields that somebody else changed too: their words stand, mine wait for a decision. */
export interface State {
  script: Script;
  version: number;
  savedScript: Script;
  changedAt: string;
  findings: Finding[];
  hanging: Schemas['Hanging'][];
  outdated: Schemas['Saved']['outdated'];
  setAside: Schemas['Saved']['set_aside'];
  releaseHash: string | null;
  sameAsNewest: boolean;
  past: Edit[];
  future: Edit[];
  lastEdit: { what: string; at: number };
  save: SaveState;
  problem: string;
  clashes: Clash[];
}

export type Action =
  | { type: 'edit'; change: (script: Script) => Script; what: string; at: number }
  | { type: 'undo' }
  | { type: 'redo' }
  | { type: 'saving' }
  | { type: 'saved'; script: Script; answer: Schemas['Saved'] }
  | { type: 'failed'; save: SaveState; problem: string }
  | { type: 'theirs'; draft: Schemas['Draft'] }
  | { type: 'settled'; clash: Clash }
  | { type: 'judged anew'; draft: Schemas['Draft'] }
  | { type: 'confirmed'; outdated: State['outdated'] }
  | { type: 'released' };

export function fromDraft(draft: Schemas['Draft']): State {
  return {
    script: draft.script,
    version: draft.version,
    savedScript: draft.script,
    ...judged(draft, null),
    past: [],
    future: [],
    lastEdit: { what: '', at: 0 },
    save: 'saved',
    problem: '',
    clashes: [],
  };
}

/** What the checker says; while there are errors, the last release that could be made stays. */
const judged = (answer: Schemas['Saved'], lastHash: string | null) => ({
  changedAt: answer.changed_at,
  findings: answer.findings,
  hanging: answer.hanging,
  outdated: answer.outdated,
  setAside: answer.set_aside,
  releaseHash: answer.release_hash ?? lastHash,
  sameAsNewest: answer.same_as_newest,
});

export function reduce(state: State, action: Action): State {
  switch (action.type) {
    case 'edit':
      return edited(state, action.change(state.script), action.what, action.at);
    case 'undo': {
      const edit = state.past.at(-1);
      if (!edit) return state;
      const script = goBack(state.script, edit.after, edit.before);
      return { ...moved(state, script), past: state.past.slice(0, -1), future: [edit, ...state.future] };
    }
    case 'redo': {
      const [edit, ...rest] = state.future;
      if (!edit) return state;
      return {
        ...moved(state, goBack(state.script, edit.before, edit.after)),
        past: [...state.past, edit],
        future: rest,
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
        ...judged(answer, state.releaseHash),
        save: state.script === action.script ? 'saved' : 'waiting',
        problem: '',
      };
    }
    case 'failed':
      return { ...state, save: action.save, problem: action.problem };
    case 'theirs':
      return withTheirs(state, action.draft);
    case 'settled':
      return { ...state, clashes: state.clashes.filter((clash) => clash !== action.clash) };
    case 'judged anew':
      return action.draft.version === state.version ? { ...state, ...judged(action.draft, state.releaseHash) } : state;
    case 'confirmed':
      return { ...state, outdated: action.outdated };
    case 'released':
      return { ...state, sameAsNewest: state.save === 'saved' };
  }
}

function edited(state: State, script: Script, what: string, at: number): State {
  if (script === state.script) return state;
  const last = state.past.at(-1);
  const goesOn = what !== '' && what === state.lastEdit.what && at - state.lastEdit.at < SAME_EDIT_MS;
  const past =
    goesOn && last?.after === state.script
      ? [...state.past.slice(0, -1), { before: last.before, after: script }]
      : [...state.past, { before: state.script, after: script }].slice(-MOST_UNDO);
  return { ...state, script, past, future: [], lastEdit: { what, at }, save: 'waiting' };
}

const moved = (state: State, script: Script): State => ({
  ...state,
  script,
  lastEdit: { what: '', at: 0 },
  save: 'waiting',
});

/** From `after` to `before`, without what others have changed since. */
const goBack = (script: Script, after: Script, before: Script): Script =>
  script === after ? before : merge(after, before, script).script;

function withTheirs(state: State, draft: Schemas['Draft']): State {
  if (draft.version <= state.version) return state;
  const { script, clashes } = merge(state.savedScript, state.script, draft.script);
  const nothingOfMine = same(script, draft.script);
  return {
    ...state,
    script,
    // What I have not changed is theirs, and no edit of mine.
    savedScript: nothingOfMine ? script : draft.script,
    version: draft.version,
    ...judged(draft, state.releaseHash),
    save: nothingOfMine ? 'saved' : 'waiting',
    problem: '',
    clashes: [...state.clashes, ...clashes],
  };
}
