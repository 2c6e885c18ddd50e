import { expect, it } from 'vitest';
import { newCodeList, newPart, type Script } from '../script/model';
import { withListNamed, withNewList, withNewUnits } from './newLists';

const script: Script = {
  name: 'q',
  title: {},
  languages: ['en'],
  parts: [
    {
      ...newPart(1),
      id: 'a',
      variable: 'ward',
      code_list: 'ward',
      code_filter: 'ward.island is island and ward is known',
    },
    { ...newPart(1), id: 'b', variable: 'other', code_list: 'island', code_filter: 'ward.island is x' },
    { ...newPart(1), id: 'c' },
  ],
  code_lists: [newCodeList('ward'), newCodeList('island')],
  unit_lists: [],
  phone_words: {},
  paradata: { device: true, place: false, timing: true, told_by: '' },
};

it('a list called otherwise takes its lines and their filters along, and nothing else', () => {
  const made = withListNamed(script, 'ward', 'quarter');
  expect(made.code_lists.map((list) => list.name)).toEqual(['quarter', 'island']);
  expect(made.parts.map((part) => [part.code_list, part.code_filter])).toEqual([
    ['quarter', 'quarter.island is island and ward is known'],
    ['island', 'ward.island is x'],
    ['', ''],
  ]);
});

it('new lists get the name of their line, or the next that is free', () => {
  expect(withNewList(script, 'a').name).toBe('ward_2');
  expect(withNewList(script, 'c').name).toBe('list');
  expect(withNewList(script, 'b').script.parts[1]?.code_list).toBe('other');
  expect(withNewUnits(script, 'c').name).toBe('quantity_unit');
});
