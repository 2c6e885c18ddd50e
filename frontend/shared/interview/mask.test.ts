import { describe, expect, it } from 'vitest';
import { fitMask } from './mask';

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
