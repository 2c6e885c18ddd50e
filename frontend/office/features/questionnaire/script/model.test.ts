import { describe, expect, it } from 'vitest';
import {
  addAbove,
  addBelow,
  changeLines,
  conditionOf,
  endOf,
  indent,
  indentLines,
  move,
  moveInto,
  moveLines,
  namesIn,
  newPart,
  numbersOf,
  removeLines,
  type Part,
} from './model';

/** A script written as `section main`, `  name`, `  age` …: two blanks for each level. */
function lines(...written: string[]): Part[] {
  return written.map((line) => {
    const words = line.trim().split(' ');
    const variable = words.pop() ?? '';
    return { ...newPart(1 + (line.length - line.trimStart().length) / 2, words.join(' ') || 'text'), variable };
  });
}
const told = (parts: Part[]) => parts.map((part) => `${'  '.repeat(part.level - 1)}${part.variable}`);

const SHEET = lines(
  'section main',
  '  name',
  '  roster staff',
  '    age',
  '    hours',
  '  remarks',
  'section last',
  '  done',
);

const id = (parts: Part[], variable: string) => parts.find((p) => p.variable === variable)?.id ?? '';
const these = (...variables: string[]) => new Set(variables.map((variable) => id(SHEET, variable)));

describe('lines of the sheet', () => {
  it.each([
    [0, 6],
    [2, 5],
    [1, 2],
    [6, 8],
  ])('what belongs to line %i ends before line %i', (index, end) => {
    expect(endOf(SHEET, index)).toBe(end);
  });

  it('are added inside what can hold them, else beside', () => {
    expect(told(addBelow(SHEET, 2).parts).slice(2, 5)).toEqual(['  staff', '    ', '    age']);
    expect(addBelow(SHEET, 1).added).toMatchObject({ level: 2, kind: 'text' });
    expect(addBelow([], -1).added).toMatchObject({ level: 1, kind: 'section' });
  });

  it('go deeper only below what can hold them, with everything inside', () => {
    expect(told(indent(SHEET, 1, 1))).toEqual(told(SHEET));
    expect(told(indent(SHEET, 5, 1)).at(5)).toBe('    remarks');
    expect(told(indent(SHEET, 2, -1)).slice(2, 5)).toEqual(['staff', '  age', '  hours']);
    expect(indent(SHEET, 0, -1)).toBe(SHEET);
  });

  it('move past the neighbour of their level with everything inside, and stay in what holds them', () => {
    expect(told(move(SHEET, 2, 1)).slice(1, 6)).toEqual(['  name', '  remarks', '  staff', '    age', '    hours']);
    expect(told(move(SHEET, 2, -1)).slice(1, 5)).toEqual(['  staff', '    age', '    hours', '  name']);
    expect(move(SHEET, 5, 1)).toBe(SHEET);
    expect(move(SHEET, 3, -1)).toBe(SHEET);
    expect(told(move(SHEET, 6, -1))[0]).toBe('last');
  });

  it('moved down and up again are as before', () => {
    for (let i = 0; i < SHEET.length; i += 1) {
      const down = move(SHEET, i, 1);
      if (down === SHEET) continue;
      const there = down.findIndex((part) => part.id === SHEET[i]?.id);
      expect(told(move(down, there, -1))).toEqual(told(SHEET));
    }
  });

  it('are removed with everything inside', () => {
    expect(told(removeLines(SHEET, these('staff')))).toEqual(['main', '  name', '  remarks', 'last', '  done']);
    expect(told(removeLines(SHEET, these('staff', 'age', 'done')))).toEqual(['main', '  name', '  remarks', 'last']);
  });

  it('come behind what a folded line hides, and before a line on its level', () => {
    expect(told(addBelow(SHEET, 2, true).parts).slice(2, 7)).toEqual([
      '  staff',
      '    age',
      '    hours',
      '  ',
      '  remarks',
    ]);
    expect(told(addAbove(SHEET, 3).parts).slice(2, 5)).toEqual(['  staff', '    ', '    age']);
  });

  it('are numbered but for sections, rosters and statements', () => {
    expect(numbersOf(SHEET)).toEqual([null, 1, null, 2, 3, 4, null, 5]);
  });
});

describe('several lines of the sheet', () => {
  const two = lines('section one', '  a', '  b', 'c', 'd', 'section two', '  e');

  it('move together past one neighbour, with everything inside', () => {
    expect(told(moveLines(two, these('c', 'd'), -1))).toEqual(['c', 'd', 'one', '  a', '  b', 'two', '  e']);
    expect(told(moveLines(two, these('c', 'd'), 1))).toEqual(['one', '  a', '  b', 'two', '  e', 'c', 'd']);
    expect(moveLines(two, these('a', 'b'), -1)).toBe(two);
    expect(moveLines(two, these('a', 'b'), 1)).toBe(two);
    expect(moveLines(two, these('c', 'two'), 1)).toBe(two);
  });

  it('go on into the section beside theirs, and no further', () => {
    const three = lines('section one', '  a', '  b', 'section two', 'roster three', '  c', 'd');
    const those = (...names: string[]) => new Set(names.map((name) => id(three, name)));
    const once = moveLines(three, those('a', 'b'), 1);
    expect(told(once)).toEqual(['one', 'two', '  a', '  b', 'three', '  c', 'd']);
    expect(told(moveLines(once, those('b'), 1))).toEqual(['one', 'two', '  a', 'three', '  b', '  c', 'd']);
    expect(told(moveLines(once, those('a'), -1))).toEqual(['one', '  a', 'two', '  b', 'three', '  c', 'd']);
    expect(moveLines(three, those('c'), 1)).toBe(three);
    expect(told(moveLines(three, those('c'), -1))).toEqual(['one', '  a', '  b', 'two', '  c', 'three', 'd']);
  });

  it('go into a section and out of it together', () => {
    const inside = indentLines(two, these('c', 'd'), 1);
    expect(told(inside)).toEqual(['one', '  a', '  b', '  c', '  d', 'two', '  e']);
    expect(told(indentLines(inside, these('c', 'd'), -1))).toEqual(told(two));
    expect(told(indentLines(two, these('a', 'b'), -1))).toEqual(['one', 'a', 'b', 'c', 'd', 'two', '  e']);
    expect(indentLines(two, these('one', 'c'), 1)).toBe(two);
  });

  it('are put at the end of another section, or outermost', () => {
    expect(told(moveInto(two, these('a', 'd'), id(two, 'two')))).toEqual([
      'one',
      '  b',
      'c',
      'two',
      '  e',
      '  a',
      '  d',
    ]);
    expect(told(moveInto(two, these('one'), id(two, 'two')))).toEqual([
      'c', 'd', 'two', '  e', '  one', '    a', '    b',
    ]); // prettier-ignore
    expect(told(moveInto(two, these('e'), null)).at(-1)).toBe('e');
    expect(moveInto(two, these('one'), id(two, 'one'))).toBe(two);
    expect(moveInto(two, these('one'), id(two, 'a'))).toBe(two);
  });

  it('are changed alike', () => {
    const needed = changeLines(two, these('a', 'c'), (part) => ({ ...part, answer_needed: 'yes' }));
    expect(needed.filter((p) => p.answer_needed === 'yes').map((p) => p.variable)).toEqual(['a', 'c']);
  });

  function these(...variables: string[]): Set<string> {
    return new Set(two.filter((p) => variables.includes(p.variable)).map((p) => p.id));
  }
});

describe('rules of a line', () => {
  it('decide by the nearest line around that has one', () => {
    const parts = SHEET.map((part) => ({ ...part }));
    const [main, , staff, age] = parts as [Part, Part, Part, Part];
    main.asked_when = 'consent is yes';
    expect(conditionOf(parts, age)).toBe('consent is yes');
    staff.asked_when = 'workers > 1';
    expect(conditionOf(parts, age)).toBe('workers > 1');
    expect(conditionOf(parts, parts[7])).toBe('');
  });

  it('name variables, not what stands in quotes', () => {
    expect(namesIn('name is "age" and hours > 3')).toEqual(['name', 'is', 'and', 'hours']);
  });
});
