import { describe, expect, it } from 'vitest';
import { Problem } from '../../shared/api/client';
import { problemWords } from './problems';
import { fieldTextsIn } from './texts';

const said = (code: string, details: Record<string, unknown> = {}) =>
  problemWords(new Problem(code, 'as the server says it', 422, details), fieldTextsIn('fr'));

describe('what the server refused', () => {
  it('is said in the phone’s language', () => {
    expect(said('disk_full')).toContain('Le disque du bureau est plein');
    expect(said('device_unknown')).toContain('plus associé');
  });

  it.each([
    ['unknown', 'inconnu'],
    ['used', 'déjà servi'],
    ['too_old', 'expiré'],
  ])('tells why a code is refused: %s', (why, words) => {
    expect(said('wrong_pairing_code', { why })).toContain(words);
  });

  it('is left in the server’s words where the phone has none', () => {
    expect(said('something_new')).toBe('as the server says it');
    expect(said('wrong_pairing_code')).toBe('as the server says it');
  });
});
