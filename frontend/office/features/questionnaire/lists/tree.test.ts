import { describe, expect, it } from 'vitest';
import { emptyCode, newCodeList, type Code, type Script } from '../script/model';
import { rowsOfCells } from './cells';
import { filterFor } from './newLists';
import {
  addBeside,
  addUnder,
  hangUnder,
  isLost,
  listsUnder,
  moveBeside,
  moveUnder,
  removeBranch,
  rootOf,
  shownNodes,
  treeOf,
  type Hanging,
} from './tree';
import { newPart } from '../script/model';

const code = (name: string, attributes: Record<string, string> = {}): Code => ({
  ...emptyCode(),
  code: name,
  label: { en: name.toUpperCase() },
  attributes,
});

const hanging: Hanging[] = [
  { code_list: 'ward', attribute: 'isle', under: 'island' },
  { code_list: 'street', attribute: 'ward', under: 'ward' },
];
const script: Script = {
  name: 'q',
  title: {},
  languages: ['en', 'fr'],
  parts: [],
  code_lists: [
    newCodeList('island', [code('kesk'), code('luma')]),
    newCodeList('ward', [code('k1', { isle: 'kesk' }), code('l1', { isle: 'luma' }), code('k2', { isle: 'kesk' })]),
    newCodeList('street', [code('a', { ward: 'k1' }), code('b', { ward: 'gone' }), code('c', { ward: 'k1' })]),
  ],
  unit_lists: [],
  phone_words: {},
  paradata: { device: true, place: false, timing: true, told_by: '' },
};

const tree = (now: Script) => treeOf(now, hanging, 'island');
const drawn = (now: Script) => tree(now).map((n) => `${isLost(n) ? '?' : '  '.repeat(n.depth)}${n.code.code || '…'}`);
const node = (name: string, now = script) => {
  const found = tree(now).find((n) => n.code.code === name);
  if (!found) throw new Error(name);
  return found;
};

describe('a tree of lists', () => {
  it('knows its root and its levels', () => {
    expect(rootOf(hanging, 'street')).toBe('island');
    expect(rootOf(hanging, 'trade')).toBe('trade');
    expect(listsUnder(hanging, 'island')).toEqual(['island', 'ward', 'street']);
  });

  it('puts every code under its own, and those that belong nowhere last', () => {
    expect(drawn(script)).toEqual(['kesk', '  k1', '    a', '    c', '  k2', 'luma', '  l1', '?b']);
    expect(node('kesk').below).toBe(4);
  });

  it('hides what is folded and finds what is looked for with what holds it', () => {
    const nodes = tree(script);
    const names = (shown: typeof nodes) => shown.map((n) => n.code.code);
    expect(names(shownNodes(nodes, new Set([node('k1').path]), '', 'en'))).toEqual([
      'kesk',
      'k1',
      'k2',
      'luma',
      'l1',
      'b',
    ]);
    expect(names(shownNodes(nodes, new Set([node('kesk').path]), 'Ç', 'en'))).toEqual(['kesk', 'k1', 'c']);
  });

  it('adds beside and under, with what that means', () => {
    expect(drawn(addBeside(script, hanging, node('k1')))).toContain('  …');
    expect(drawn(addBeside(script, hanging, node('kesk')))[5]).toBe('…');
    expect(drawn(addUnder(script, hanging, node('l1'), 'street')).slice(-3)).toEqual(['  l1', '    …', '?b']);
  });

  it('moves under another one and past a neighbour', () => {
    expect(drawn(moveUnder(script, hanging, node('b'), 'l1')).slice(-2)).toEqual(['  l1', '    b']);
    expect(drawn(moveBeside(script, tree(script), node('k2'), -1)).slice(0, 3)).toEqual(['kesk', '  k2', '  k1']);
    expect(moveBeside(script, tree(script), node('l1'), -1)).toBe(script);
    expect(moveUnder(script, hanging, node('kesk'), 'x')).toBe(script);
  });

  it('removes a code with all under it', () => {
    expect(drawn(removeBranch(script, tree(script), node('kesk')))).toEqual(['luma', '  l1', '?b']);
    expect(drawn(removeBranch(script, tree(script), node('b')))).not.toContain('?b');
  });

  it('hangs a list under another by an attribute of its name', () => {
    const after = hangUnder({ ...script, code_lists: [newCodeList('a'), newCodeList('b', [code('x')])] }, 'b', 'a');
    expect(after.code_lists[1]?.codes[0]?.attributes).toEqual({ a: '' });
    expect(hangUnder(after, 'a', 'b').code_lists[0]?.codes).toHaveLength(1);
  });
});

it('takes pasted cells as codes: one column of labels, or codes first', () => {
  const columns = ['code', 'en', 'fr', '.isle'];
  const rows = (text: string) =>
    rowsOfCells(text, columns, [code('one')], ['en', 'fr'])?.map((c) => [c.code, c.label, c.attributes]);
  expect(rows('One\nTwo words\n')).toEqual([
    ['one_2', { en: 'One' }, {}],
    ['two_words', { en: 'Two words' }, {}],
  ]);
  expect(rows('k3\tKesk three\tKesk trois\tkesk')).toEqual([
    ['k3', { en: 'Kesk three', fr: 'Kesk trois' }, { isle: 'kesk' }],
  ]);
  expect(rows('just one')).toBeUndefined();
});

it('gives a question the filter that its list means', () => {
  const asked = { ...newPart(1, 'single answer'), id: 'i', variable: 'home', code_list: 'island' };
  const here = { ...newPart(1, 'single answer'), id: 'w', variable: 'ward' };
  const named = { ...script, code_lists: [newCodeList('w', [code('x', { island: 'kesk' })])], parts: [asked, here] };
  expect(filterFor(named, 'w', 'w')).toBe('w.island is home');
  expect(filterFor({ ...named, parts: [here, asked] }, 'w', 'w')).toBe('');
});
