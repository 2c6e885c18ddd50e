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
      asked_when: 'a is yes\n  and b is no  # both',
      derived: 'a + b',
      code_filter: 'ward.island is island',
      default: 'yes',
      answer_needed: 'a is yes',
      must_hold: [check('x > 1', 'More than one.'), check('x < 9')],
      should_hold: [check('x < 5', 'Seldom so many.')],
    });
    expect(applySentences(line, writeSentences(line, 'en'), 'en')).toEqual(line);
    expect(applySentences(part({}), writeSentences(line, 'en'), 'en')).toMatchObject({
      asked_when: line.asked_when,
      derived: 'a + b',
    });
  });

  it('typed go to their fields', () => {
    const typed = 'asked when consent is yes\nmust hold age between 8 and 99\n\nshould hold age >= 14\nanswer needed';
    expect(applySentences(part({}), typed, 'en')).toMatchObject({
      asked_when: 'consent is yes',
      must_hold: [check('age between 8 and 99')],
      should_hold: [check('age >= 14')],
      answer_needed: 'yes',
    });
  });

  it('keep their messages in other languages where a rule is changed, moved or another one goes', () => {
    const both = (rule: string, fr: string, en?: string) => ({
      rule,
      message: { fr, ...(en !== undefined && { en }) },
    });
    const line = part({ must_hold: [both('a', 'A !', 'A!'), both('b', 'B !')] });
    expect(applySentences(line, 'must hold a\n says A?\nmust hold b > 1\nsays B?', 'en').must_hold).toEqual([
      both('a', 'A !', 'A?'),
      both('b > 1', 'B !', 'B?'),
    ]);
    expect(applySentences(line, 'must hold b\nmust hold a\n  says A!', 'en').must_hold).toEqual([
      both('b', 'B !'),
      both('a', 'A !', 'A!'),
    ]);
    expect(applySentences(line, 'must hold b', 'en').must_hold).toEqual([both('b', 'B !')]);
    expect(writeSentences(line, 'en')).toBe('must hold a\n  says A!\nmust hold b');
    expect(writeSentences(line, 'fr')).toBe('must hold a\n  says A !\nmust hold b\n  says B !');
  });

  it('say everything else about the line too', () => {
    const line = part({
      must_hold: [check('x > 1', 'More than one.\nCount again.')],
      code_list: 'trade',
      unit: 'kg',
      special_answers: ['refused', 'dont_know'],
      least: 0,
      most: 2.5,
      mask: 'A*_9',
      reads_back: 'x',
      register_name: 'workshop',
      fills: 'unit.condition',
      order: 'random',
      sensitive: true,
      read_aloud: false,
      instruction: { en: 'Read aloud.\nWait.', fr: 'Lire.' },
      media: ['door plate.png', 'sign.svg'],
      remark: 'As in the last round.',
    });
    const written = writeSentences(line, 'en');
    expect(written.split('\n').slice(2)).toEqual([
      '    Count again.',
      'code list trade',
      'unit kg',
      'special answers don’t know, refused',
      'least 0',
      'most 2.5',
      'mask A*_9',
      'reads back x',
      'register workshop',
      'fills unit.condition',
      'random order',
      'sensitive',
      'not read aloud',
      'instruction Read aloud.',
      '    Wait.',
      'media door plate.png, sign.svg',
      'remark As in the last round.',
    ]);
    expect(applySentences(line, written, 'en')).toEqual({ ...line, special_answers: ['dont_know', 'refused'] });
    expect(applySentences(line, '', 'en')).toMatchObject({
      least: null,
      mask: '',
      sensitive: false,
      read_aloud: true,
      order: '',
      media: [],
      instruction: { fr: 'Lire.' },
    });
  });

  it('keep texts of several rows whole, whatever words their rows begin with', () => {
    const line = part({
      must_hold: [check('x > 1', 'No.\nmust hold on\n\n  says who?')],
      instruction: { en: 'Wait.\n\nsensitive\nleast of all' },
      remark: 'asked when\nmedia lie',
    });
    expect(applySentences(line, writeSentences(line, 'en'), 'en')).toEqual(line);
    expect(readSentences(writeSentences(line, 'en')).stray).toEqual([]);
  });

  it('that cannot be understood are told and change nothing', () => {
    const { stray } = readSentences(
      "least many\nspecial answers perhaps\nsensitive to light\nspecial answers Don't know",
    );
    expect(stray.map((s) => s.text)).toEqual(['least many', 'special answers perhaps', 'sensitive to light']);
    expect(applySentences(part({}), "special answers Don't know", 'en').special_answers).toEqual(['dont_know']);
  });

  it('that are deleted are gone, and what begins with no word of a rule is told', () => {
    expect(applySentences(part({ asked_when: 'a is yes' }), '', 'en').asked_when).toBe('');
    expect(readSentences('asked when a\nage > 3\nmust holding').stray.map((s) => [s.start, s.text])).toEqual([
      [13, 'age > 3'],
      [21, 'must holding'],
    ]);
    expect(readSentences('x\n  must hold   y > 2').read[0]).toMatchObject({ rule: 'y > 2', start: 16 });
  });

  it('leave it at no answer needed', () => {
    expect(applySentences(part({ answer_needed: 'no' }), '', 'en').answer_needed).toBe('no');
  });
});
