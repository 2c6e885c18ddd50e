import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { db, type InterviewRow } from './db';
import { notedBy, notePlace } from './noted';

const row = (state: InterviewRow['state']): InterviewRow => ({
  uuid: 'u',
  state,
  release: 'r',
  title: '',
  label: '',
  labelPath: '',
  stoppedAt: '',
  open: 0,
  startedAt: '',
  changedAt: '',
  practice: 0,
  path: null,
  answers: {},
  kept: {},
  language: 'en',
  events: [],
});

const locate = (found: (ok: PositionCallback, failed: PositionErrorCallback) => void) => {
  vi.stubGlobal('navigator', { geolocation: { getCurrentPosition: found } });
};
const here = { coords: { latitude: -47.1, longitude: -122.4, accuracy: 7.26 } } as GeolocationPosition;

describe('what the phone notes', () => {
  beforeEach(async () => {
    vi.unstubAllGlobals();
    await db.interviews.clear();
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
    await db.interviews.add(row('in hand'));
    locate((ok) => {
      ok(here);
    });
    notePlace('u');
    await vi.waitFor(async () => {
      expect((await db.interviews.get('u'))?.place).toEqual({ latitude: -47.1, longitude: -122.4, accuracy: 7.3 });
    });
  });

  it('is why there is no place where the phone may not tell', async () => {
    await db.interviews.add(row('in hand'));
    locate((_, failed) => {
      failed({ code: 1, PERMISSION_DENIED: 1 } as GeolocationPositionError);
    });
    notePlace('u');
    await vi.waitFor(async () => {
      expect((await db.interviews.get('u'))?.place).toEqual({ problem: 'not allowed' });
    });
  });

  it('is nothing more once the interview is packed', async () => {
    await db.interviews.add(row('packed'));
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
    expect((await db.interviews.get('u'))?.place).toBeUndefined();
  });
});
