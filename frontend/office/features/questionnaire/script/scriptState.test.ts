import { expect, it } from 'vitest';
import type { Schemas } from '../../../../shared/api/client';
import { newPart, type Script } from './model';
import { fromDraft, reduce, type Action, type State } from './scriptState';

const script = (name: string, ...variables: string[]): Script => ({
  name,
  title: {},
  languages: ['en'],
  parts: variables.map((variable) => ({ ...newPart(1), id: variable, variable })),
  code_lists: [],
  unit_lists: [],
  phone_words: {},
  paradata: { device: true, place: false, timing: true, told_by: '' },
});
const draft: Schemas['Draft'] = {
  id: 1,
  study_id: 1,
  title: 'Wells',
  version: 3,
  changed_at: '2026-03-14T09:00:00Z',
  script: script('a', 'x', 'y'),
  findings: [],
  release_hash: null,
  newest_release: null,
  newest_is_practice: false,
  awaiting: null,
  same_as_newest: false,
  hanging: [],
  outdated: {},
  set_aside: [],
};
const named = (name: string, at: number, what = ''): Action => ({
  type: 'edit',
  change: (before) => ({ ...before, name }),
  what,
  at,
});
const masked = (id: string, mask: string): Action => ({
  type: 'edit',
  change: (before) => ({ ...before, parts: before.parts.map((p) => (p.id === id ? { ...p, mask } : p)) }),
  what: '',
  at: 0,
});
const theirs = (version: number, changed: (script: Script) => void): Action => {
  const copy = structuredClone(draft.script);
  changed(copy);
  return { type: 'theirs', draft: { ...draft, version, script: copy } };
};
const maskOf = (id: string, mask: string) => (changed: Script) => {
  for (const part of changed.parts) part.mask = part.id === id ? mask : '';
};
const after = (...actions: Action[]): State => actions.reduce(reduce, fromDraft(draft));
const answer = (version: number): Schemas['Saved'] => ({
  version,
  changed_at: '2026-03-14T09:01:00Z',
  findings: [],
  release_hash: null,
  same_as_newest: false,
  hanging: [],
  outdated: {},
  set_aside: [],
});
const masks = (state: State) => state.script.parts.map((p) => p.mask);

it('takes back and puts back one edit after the other', () => {
  const state = after(named('b', 1), named('c', 2), { type: 'undo' }, { type: 'undo' }, { type: 'redo' });
  expect([state.script.name, state.past.length, state.future.length]).toEqual(['b', 1, 1]);
});

it('has nothing to take back at the beginning, and nothing to put back at the end', () => {
  expect(after({ type: 'undo' }, { type: 'redo' }).script.name).toBe('a');
});

it('takes letters typed one after the other back together, and those after a pause apart', () => {
  const state = after(named('b', 1000, 'p.wording'), named('c', 1500, 'p.wording'), named('d', 4000, 'p.wording'));
  expect(state.past.map((edit) => edit.before.name)).toEqual(['a', 'c']);
});

it('forgets what was taken back once something else is edited', () => {
  expect(after(named('b', 1), { type: 'undo' }, named('c', 2)).future).toEqual([]);
});

it('takes an edit that changes nothing for none', () => {
  expect(after({ type: 'edit', change: (before) => before, what: '', at: 1 }).past).toEqual([]);
});

it('is saved only when what was kept is what is on the screen', () => {
  const edited = after(named('b', 1), { type: 'saving' });
  const kept = reduce(edited, { type: 'saved', script: edited.script, answer: answer(4) });
  expect([kept.version, kept.save]).toEqual([4, 'saved']);
  const meanwhile = reduce(reduce(edited, named('c', 2)), { type: 'saved', script: edited.script, answer: answer(4) });
  expect([meanwhile.script.name, meanwhile.savedScript.name, meanwhile.save]).toEqual(['c', 'b', 'waiting']);
});

it('keeps what was written where saving fails, and says why', () => {
  const state = after(named('b', 1), { type: 'failed', save: 'refused', problem: 'It is full.' });
  expect([state.script.name, state.save, state.problem]).toEqual(['b', 'refused', 'It is full.']);
});

it('takes in what somebody else changed, and goes on saving what is its own', () => {
  const quiet = after(theirs(4, (s) => (s.name = 'theirs')));
  expect([quiet.script.name, quiet.version, quiet.save]).toEqual(['theirs', 4, 'saved']);
  const busy = after(masked('x', '9'), theirs(4, maskOf('y', 'A')));
  expect([masks(busy), busy.version, busy.save]).toEqual([['9', 'A'], 4, 'waiting']);
  expect(busy.savedScript.parts[0]?.mask).toBe('');
});

it('leaves an older draft that comes late alone', () => {
  expect(after(theirs(3, (s) => (s.name = 'late'))).script.name).toBe('a');
});

it('takes back its own edit and none of somebody else', () => {
  const state = after(masked('x', '9'), theirs(4, maskOf('y', 'A')), { type: 'undo' });
  expect(masks(state)).toEqual(['', 'A']);
  expect(masks(reduce(state, { type: 'redo' }))).toEqual(['9', 'A']);
});

it('keeps their words where both changed one field, and mine until it is decided', () => {
  const state = after(masked('x', 'mine'), theirs(4, maskOf('x', 'theirs')));
  expect([masks(state), state.save]).toEqual([['theirs', ''], 'saved']);
  const [clash] = state.clashes;
  expect(clash).toMatchObject({ partId: 'x', place: 'mask', kept: 'theirs', other: 'mine' });
  expect(clash && reduce(state, { type: 'settled', clash }).clashes).toEqual([]);
});
