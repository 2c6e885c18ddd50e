import { describe, expect, it } from 'vitest';
import { newPart, type Part } from './model';
import { applySentences, readSentences, rulesOf, writeSentences } from './sentences';

const part = (more: Partial<Part>): Part => ({ ...newPart(1), ...more });
const check = (rule: string, said = ''): Part['must_hold'][number] => ({
  rule,
  message: said === '' ? {} : { en: said },
});

describe('rules of a line', () => {
  it('come in the order they matter', () => {
    const line = part({ asked_when: 'a is yes', answer_needed: 'yes', must_hold: [check('x > 1')] });
    expect(rulesOf(line).map((rule) => `${rule.word} ${rule.text}`)).toEqual([
      'asked when a is yes',
      'answer needed yes',
      'must hold x > 1',
    ]);
  });

  it('written and read again are as they were', () => {
    const line = part({
      asked_when: 'a is yes\nand b is no  # both',
      derived: 'a + b',
      code_filter: 'ward.island is island',
      default: 'yes',
      answer_needed: 'a is yes',
      must_hold: [check('x > 1', 'More than one.'), check('x < 9')],
      should_hold: [check('x < 5', 'Seldom so many.')],
    });
    expect(applySentences(line, writeSentences(line))).toEqual(line);
    expect(applySentences(part({}), writeSentences(line))).toMatchObject({
      asked_when: line.asked_when,
      derived: 'a + b',
    });
  });

  it('typed go to their fields', () => {
    const typed = 'asked when consent is yes\nmust hold age between 8 and 99\n\nshould hold age >= 14\nanswer needed';
    expect(applySentences(part({}), typed)).toMatchObject({
      asked_when: 'consent is yes',
      must_hold: [check('age between 8 and 99')],
      should_hold: [check('age >= 14')],
      answer_needed: 'yes',
    });
  });

  it('keep their messages where a rule is changed, moved or another one goes', () => {
    const line = part({ must_hold: [check('a', 'A!'), check('b', 'B!')] });
    expect(applySentences(line, 'must hold a\nmust hold b > 1').must_hold).toEqual([
      check('a', 'A!'),
      check('b > 1', 'B!'),
    ]);
    expect(applySentences(line, 'must hold b\nmust hold a').must_hold).toEqual([check('b', 'B!'), check('a', 'A!')]);
    expect(applySentences(line, 'must hold b').must_hold).toEqual([check('b', 'B!')]);
  });

  it('that are deleted are gone, and what begins with no word of a rule is told', () => {
    expect(applySentences(part({ asked_when: 'a is yes' }), '').asked_when).toBe('');
    expect(readSentences('asked when a\nage > 3\nmust holding').stray.map((s) => [s.start, s.text])).toEqual([
      [13, 'age > 3'],
      [21, 'must holding'],
    ]);
    expect(readSentences('x\n  must hold   y > 2').read[0]).toMatchObject({ rule: 'y > 2', start: 16 });
  });

  it('leave it at no answer needed', () => {
    expect(applySentences(part({ answer_needed: 'no' }), '').answer_needed).toBe('no');
  });
});
