import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { freshPhone, keepsInterview } from '../../testing/phone';
import { readInterview } from './kept';
import { notedBy, notePlace } from './noted';

const locate = (found: (ok: PositionCallback, failed: PositionErrorCallback) => void) => {
  vi.stubGlobal('navigator', { geolocation: { getCurrentPosition: found } });
};
const here = { coords: { latitude: -47.1, longitude: -122.4, accuracy: 7.26 } } as GeolocationPosition;

describe('what the phone notes', () => {
  beforeEach(async () => {
    vi.unstubAllGlobals();
    await freshPhone();
  });

  it('is what the release says, and what it always was where that says nothing', () => {
    const anyway = { device: true, place: false, timing: true };
    expect(notedBy(undefined)).toEqual(anyway);
    expect(notedBy({ compiled: '{"parts":[]}' })).toEqual(anyway);
    expect(notedBy({ compiled: '{"paradata":{"device":false,"place":true,"timing":false}}' })).toEqual({
      device: false,
      place: true,
      timing: false,
    });
  });

  it('is where the interview began, once that is known', async () => {
    await keepsInterview('u');
    locate((ok) => {
      ok(here);
    });
    notePlace('u');
    await vi.waitFor(async () => {
      expect((await readInterview('u'))?.place).toEqual({ latitude: -47.1, longitude: -122.4, accuracy: 7.3 });
    });
  });

  it('is why there is no place where the phone may not tell', async () => {
    await keepsInterview('u');
    locate((_, failed) => {
      failed({ code: 1, PERMISSION_DENIED: 1 } as GeolocationPositionError);
    });
    notePlace('u');
    await vi.waitFor(async () => {
      expect((await readInterview('u'))?.place).toEqual({ problem: 'not allowed' });
    });
  });

  it('is nothing more once the interview is packed', async () => {
    await keepsInterview('u', { state: 'packed' });
    let ready: () => void = () => undefined;
    const told = new Promise<void>((resolve) => {
      ready = resolve;
    });
    locate((ok) => {
      ok(here);
      ready();
    });
    notePlace('u');
    await told;
    await new Promise((resolve) => setTimeout(resolve, 0));
    expect((await readInterview('u'))?.place).toBeUndefined();
  });
});
