import { expect, it } from 'vitest';
import type { Schemas } from '../../../../shared/api/client';
import type { Script } from './model';
import { fromDraft, reduce, type Action, type State } from './scriptState';

const script = (name: string): Script => ({
  name,
  title: {},
  languages: ['en'],
  parts: [],
  code_lists: [],
  unit_lists: [],
});
const draft: Schemas['Draft'] = {
  id: 1,
  study_id: 1,
  title: 'Wells',
  version: 3,
  changed_at: '2026-03-14T09:00:00Z',
  script: script('a'),
  findings: [],
  release: null,
  release_hash: null,
  newest_release: null,
  same_as_newest: false,
};
const edit = (name: string, at: number, what = ''): Action => ({ type: 'edit', script: script(name), what, at });
const after = (...actions: Action[]): State => actions.reduce(reduce, fromDraft(draft));
const saved = (name: string, version: number): Action => ({
  type: 'saved',
  script: script(name),
  answer: {
    version,
    changed_at: '2026-03-14T09:01:00Z',
    findings: [],
    release: null,
    release_hash: null,
    same_as_newest: false,
  },
});

it('takes back and puts back one edit after the other', () => {
  const state = after(edit('b', 1), edit('c', 2), { type: 'undo' }, { type: 'undo' }, { type: 'redo' });
  expect([state.script.name, state.past.length, state.future.length]).toEqual(['b', 1, 1]);
});

it('has nothing to take back at the beginning, and nothing to put back at the end', () => {
  expect(after({ type: 'undo' }, { type: 'redo' }).script.name).toBe('a');
});

it('takes letters typed one after the other back together, and those after a pause apart', () => {
  const state = after(edit('b', 1000, 'p.wording'), edit('c', 1500, 'p.wording'), edit('d', 4000, 'p.wording'));
  expect(state.past.map((s) => s.name)).toEqual(['a', 'c']);
});

it('forgets what was taken back once something else is edited', () => {
  expect(after(edit('b', 1), { type: 'undo' }, edit('c', 2)).future).toEqual([]);
});

it('is saved only when what was kept is what is on the screen', () => {
  expect(after(edit('b', 1), { type: 'saving' }, saved('b', 4)).version).toBe(4);
  const meanwhile = after(edit('b', 1), { type: 'saving' }, edit('c', 2), saved('b', 4));
  expect([meanwhile.script.name, meanwhile.savedScript.name, meanwhile.save === 'saved']).toEqual(['c', 'b', false]);
});

it('keeps what was written where saving fails, and says why', () => {
  const state = after(edit('b', 1), { type: 'failed', save: 'conflict', problem: 'Somebody else changed it.' });
  expect([state.script.name, state.save, state.problem]).toEqual(['b', 'conflict', 'Somebody else changed it.']);
});
