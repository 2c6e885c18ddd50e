import { describe, expect, it } from 'vitest';
import { fitMask, fits } from './mask';

/** What stands in the field after each key. */
function typing(mask: string, keys: string): string {
  return Array.from(keys).reduce((text, key) => fitMask(mask, text + key, text), '');
}

describe('typing along a mask', () => {
  it.each([
    ['****_999999', 'ke4t204518', 'ke4t_204518'],
    ['****_999999', 'ke4t_204518', 'ke4t_204518'],
    ['AA-99', 'kb20', 'KB-20'],
    ['(99) 99', '2045', '(20) 45'],
    ['99?9', '2045', '2045'],
    ['', 'free', 'free'],
  ])('%s: %s becomes %s', (mask, keys, wanted) => {
    expect(typing(mask, keys)).toBe(wanted);
  });

  it('leaves a character that fits nowhere as it was typed', () => {
    expect(fitMask('99', '2x', '2')).toBe('2x');
  });

  it('lets a fixed character be deleted', () => {
    expect(fitMask('99-99', '20', '20-')).toBe('20');
  });

  it('puts the fixed character as soon as the place before it is filled', () => {
    expect(fitMask('99-99', '20', '2')).toBe('20-');
  });
});

it.each([
  ['AA_999', 'LU_104', true],
  ['AA_999', 'LU_10', false],
  ['AA_999', 'xLU_104', false],
  ['****_99', 'É9x3_12', true],
  ['A-9?', 'K-', true],
  ['A-?9', 'K7', true],
  ['(9.9)', '(1.2)', true],
  ['(9.9)', '(1x2)', false],
])('%s takes %s: %s', (mask, text, expected) => {
  expect(fits(mask, text)).toBe(expected);
});
