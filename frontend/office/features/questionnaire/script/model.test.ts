import { describe, expect, it } from 'vitest';
import {
  addBelow,
  conditionOf,
  duplicate,
  endOf,
  indent,
  move,
  namesIn,
  newPart,
  numbersOf,
  removeLine,
  rulesOf,
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
    expect(told(removeLine(SHEET, 2))).toEqual(['main', '  name', '  remarks', 'last', '  done']);
  });

  it('are duplicated under a name and an identity of their own', () => {
    const first = duplicate(lines('age', 'age_2'), 0);
    expect(first?.added.variable).toBe('age_3');
    expect(new Set(first?.parts.map((part) => part.id)).size).toBe(3);
  });

  it('are numbered but for sections, rosters and statements', () => {
    expect(numbersOf(SHEET)).toEqual([null, 1, null, 2, 3, 4, null, 5]);
  });
});

describe('rules of a line', () => {
  it('come in the order they matter', () => {
    const part: Part = {
      ...newPart(1),
      asked_when: 'a is yes',
      answer_needed: 'yes',
      must_hold: [{ rule: 'x > 1', message: {} }],
    };
    expect(rulesOf(part).map((rule) => `${rule.word} ${rule.text}`)).toEqual([
      'asked when a is yes',
      'answer needed yes',
      'must hold x > 1',
    ]);
  });

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
