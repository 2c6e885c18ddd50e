import Dexie from 'dexie';
import { expect, it } from 'vitest';
import { fieldTextsIn } from '../texts/texts';
import { TROUBLES, troubleOf } from './troubles';

it.each([
  [new DOMException('full', 'QuotaExceededError'), 'full'],
  [new Dexie.QuotaExceededError('full'), 'full'],
  [new Dexie.AbortError('aborted', new DOMException('full', 'QuotaExceededError')), 'full'],
  [new Dexie.OpenFailedError('no'), 'refused'],
  [new DOMException('no', 'SecurityError'), 'refused'],
  [new Error('something'), 'unforeseen'],
  ['a text', 'unforeseen'],
] as const)('%s is told as %s', (error, trouble) => {
  expect(troubleOf(error)).toBe(trouble);
  expect(fieldTextsIn('en')(TROUBLES[trouble])).toMatch(/\.$/);
});
