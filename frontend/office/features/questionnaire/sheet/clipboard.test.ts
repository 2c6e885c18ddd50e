import { expect, it } from 'vitest';
import { newCodeList, newPart, type Script } from '../script/model';
import { cellsIn, cellsOf, copiedLines, copyLines, fragmentOf } from './clipboard';

const script: Script = {
  name: 'q',
  title: {},
  languages: ['en'],
  parts: [
    { ...newPart(1, 'section'), id: 's', variable: 'people' },
    {
      ...newPart(2, 'single answer'),
      id: 'a',
      variable: 'trade',
      code_list: 'trade',
      wording: { en: 'Which\ttrade?' },
    },
    { ...newPart(1), id: 'b', variable: 'why', must_hold: [{ rule: 'why is not "x"', message: { en: 'No "x".' } }] },
  ],
  code_lists: [newCodeList('trade'), newCodeList('island')],
  unit_lists: [],
  phone_words: {},
  paradata: { device: true, place: false, timing: true, told_by: '' },
};

/** What a browser hands to copy and paste. */
function clipboard(): DataTransfer {
  const kept = new Map<string, string>();
  return {
    setData: (type: string, data: string) => kept.set(type, data),
    getData: (type: string) => kept.get(type) ?? '',
  } as unknown as DataTransfer;
}

it('lines take along what is inside them and the lists that they use', () => {
  const fragment = fragmentOf(script, new Set(['s']));
  expect(fragment.parts.map((p) => p.id)).toEqual(['s', 'a']);
  expect(fragment.code_lists.map((l) => l.name)).toEqual(['trade']);
});

it('lines copied are the same when pasted, and cells for a spreadsheet', () => {
  const held = clipboard();
  copyLines(held, fragmentOf(script, new Set(['s', 'b'])));
  expect(copiedLines(held)).toEqual(fragmentOf(script, new Set(['s', 'b'])));
  const rows = cellsIn(held.getData('text/plain'));
  expect(rows).toEqual(cellsOf(fragmentOf(script, new Set(['s', 'b']))));
  expect(rows[0]).toEqual([
    'Level', 'Kind', 'Variable', 'Wording [en]', 'Code list', 'Must hold', 'Must hold message [en]',
  ]); // prettier-ignore
  expect(rows[2]?.[3]).toBe('Which\ttrade?');
  expect(rows[3]?.slice(-2)).toEqual(['why is not "x"', 'No "x".']);
});

it('a wording that looks like a formula is none in a spreadsheet', () => {
  const held = clipboard();
  const parts = [{ ...newPart(1), wording: { en: '=1+1' } }];
  copyLines(held, { languages: ['en'], parts, code_lists: [], unit_lists: [] });
  expect(cellsIn(held.getData('text/plain'))[1]?.[3]).toBe("'=1+1");
});

it('nothing of Skavo on the clipboard is nothing, whatever it is', () => {
  const held = clipboard();
  expect(copiedLines(held)).toBeNull();
  held.setData('application/x-skavo-lines', '{broken');
  expect(copiedLines(held)).toBeNull();
});

it('reads cells with quotes, new lines and other ends of lines', () => {
  expect(cellsIn('a\t"b\n""c"""\r\nd\t\r\n\r\n')).toEqual([
    ['a', 'b\n"c"'],
    ['d', ''],
  ]);
  expect(cellsIn('say "yes"\tx')).toEqual([['say "yes"', 'x']]);
});
