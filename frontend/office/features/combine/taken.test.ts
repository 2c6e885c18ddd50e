import { describe, expect, it } from 'vitest';
import { calledAs, wrongIn } from './taken';

describe('what columns taken are called', () => {
  it('keeps what was said, and takes what is suggested for the rest', () => {
    expect(calledAs(['fee', 'since'], { fee: 'cost', gone: 'old' }, { fee: 'roll_fee', since: 'roll_since' })).toEqual({
      fee: 'cost',
      since: 'roll_since',
    });
  });

  it('gives no name twice, however long it is', () => {
    const long = 'a'.repeat(32);
    expect(Object.values(calledAs(['x', 'y', 'z'], {}, { x: long, y: long, z: long }))).toEqual([
      long,
      `${'a'.repeat(30)}_2`,
      `${'a'.repeat(30)}_3`,
    ]);
    expect(calledAs(['x', 'y'], { y: 'fee' }, { x: 'fee' })).toEqual({ x: 'fee_2', y: 'fee' });
  });

  it('finds names that no variable can have, and those that two have', () => {
    expect(wrongIn({ a: 'fee', b: 'Fee', c: '', d: '2nd', e: 'a'.repeat(33), f: 'fee', g: 'fine_1' })).toEqual([
      'a',
      'b',
      'c',
      'd',
      'e',
      'f',
    ]);
  });
});
