import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Problem, unreachable, type Schemas } from '../../shared/api/client';
import { FORMATS } from '../../shared/api/contract';
import { freshPhone, keepsInterview, newStudyKey, SETTINGS } from '../../testing/phone';
import { db, type Interview } from './db';
import { changeInterview, readInterview } from './kept';
import { sealFile } from './vault';
import { hashOf } from '../../shared/hash';
import * as server from './server';
import { sync } from './sync';

vi.mock('./server', async (original) => ({
  ...(await original<typeof import('./server')>()),
  handIn: vi.fn(),
  handInFile: vi.fn(),
  profile: vi.fn(),
  fetchRelease: vi.fn(),
  fetchInterview: vi.fn(),
}));

// Another study's key: nothing here reads what is wrapped for it.
const STUDY_KEY = await newStudyKey();

const profileOf = (more: Partial<Schemas['Profile']> = {}): Schemas['Profile'] => ({
  study: 'Wells',
  device: 'phone 01',
  enumerator: 'Ilse Varn',
  releases: [],
  sent_back: [],
  withdrawn: [],
  visits: '',
  units: '',
  server_time: new Date().toISOString(),
  settings: SETTINGS,
  study_key: STUDY_KEY,
  left: [],
  sheets: [],
  round: null,
  tally: { today: 0, all: 0, accepted: 0, sent_back: 0 },
  ...more,
});

async function packed(uuid: string, more: Partial<Interview> = {}): Promise<Interview> {
  const raw = JSON.stringify({ uuid, ...(more.answers ?? {}) });
  return keepsInterview(uuid, {
    state: 'packed',
    label: 'North well',
    changedAt: `2026-03-14T09:00:0${uuid}Z`,
    raw,
    hash: await hashOf(raw),
    ...more,
  });
}

const receipt = (row: Interview): Schemas['ReceiptOut'] => ({
  uuid: row.uuid,
  hash: row.hash ?? '',
  outcome: 'arrived',
  number: 7,
});
const stateOf = async (uuid: string) => (await db.interviews.get(uuid))?.state;

beforeEach(async () => {
  await freshPhone();
  vi.mocked(server.profile).mockResolvedValue(profileOf());
  vi.mocked(server.handInFile).mockImplementation((_token, file) => Promise.resolve(file.hash));
});

describe('handing in', () => {
  it('lets go of an interview against a receipt for the same bytes, and keeps no answer of it', async () => {
    const row = await packed('1', { remarks: { well: 'The owner was away' } });
    vi.mocked(server.handIn).mockResolvedValue(receipt(row));
    expect(await sync()).toEqual({ reached: true, handedIn: 1, problem: '' });
    const left = await readInterview('1');
    expect([left?.state, left?.number, left?.raw, left?.label, left?.answers, left?.remarks]).toEqual([
      'handed in',
      7,
      undefined,
      '',
      {},
      undefined,
    ]);
  });

  it('keeps it where the office holds other bytes', async () => {
    const row = await packed('1');
    vi.mocked(server.handIn).mockResolvedValue({ ...receipt(row), hash: 'f'.repeat(64) });
    await sync();
    expect(await stateOf('1')).toBe('packed');
    expect((await db.interviews.get('1'))?.problem).toContain('other bytes');
  });

  it('goes on with the next one where one is refused or broken', async () => {
    await packed('1');
    await packed('2', { raw: undefined, hash: undefined });
    const third = await packed('3');
    vi.mocked(server.handIn).mockImplementation((_token, uuid) =>
      uuid === '3'
        ? Promise.resolve(receipt(third))
        : Promise.reject(new Problem('unforeseen', 'Something went wrong.', 500)),
    );
    expect((await sync()).handedIn).toBe(1);
    expect([await stateOf('1'), await stateOf('2'), await stateOf('3')]).toEqual(['packed', 'packed', 'handed in']);
  });

  it('stops without a problem where there is no network, and tries nothing further', async () => {
    await packed('1');
    await packed('2');
    vi.mocked(server.handIn).mockRejectedValue(unreachable());
    expect(await sync()).toEqual({ reached: false, handedIn: 0, problem: '' });
    expect(server.handIn).toHaveBeenCalledTimes(1);
  });

  it('says what a cut-off device may not do, once', async () => {
    await packed('1');
    await packed('2');
    vi.mocked(server.handIn).mockRejectedValue(new Problem('not_allowed', 'The office has cut this phone off.', 403));
    expect((await sync()).problem).toContain('cut this phone off');
    expect(server.handIn).toHaveBeenCalledTimes(1);
  });

  it('does not let go of what was packed anew meanwhile', async () => {
    const row = await packed('1');
    vi.mocked(server.handIn).mockImplementation(async () => {
      await packed('1', { answers: { users: 3 } });
      return receipt(row);
    });
    await sync();
    expect(await stateOf('1')).toBe('packed');
  });
});

describe('files', () => {
  const content = new Blob(['a picture']);
  const attach = async (interview: string) => {
    const hash = await hashOf(content);
    const sealed = await sealFile(content);
    await db.attachments.put({ interview, hash, kind: 'photo', bytes: content.size, type: '', sealed, confirmed: 0 });
    return hash;
  };

  it('of two interviews that hold the same one are each handed in', async () => {
    const hash = await hashOf(content);
    const rows = [await packed('1', { answers: { front: hash } }), await packed('2', { answers: { front: hash } })];
    await attach('1');
    await attach('2');
    vi.mocked(server.handIn).mockImplementation((_token, uuid) =>
      Promise.resolve(receipt(rows[Number(uuid) - 1] as Interview)),
    );
    expect((await sync()).handedIn).toBe(2);
    expect(vi.mocked(server.handInFile).mock.calls.map(([, file]) => file.interview)).toEqual(['1', '2']);
    expect(await db.attachments.count()).toBe(0);
  });

  it('stay on the phone until the interview itself has its receipt', async () => {
    const hash = await attach('1');
    await packed('1', { answers: { front: hash } });
    vi.mocked(server.handIn).mockRejectedValue(new Problem('unforeseen', 'no', 500));
    await sync();
    expect(await db.attachments.toArray()).toMatchObject([{ interview: '1', confirmed: 1 }]);
    vi.mocked(server.handIn).mockRejectedValue(new Problem('unforeseen', 'no', 500));
    await sync();
    expect(server.handInFile).toHaveBeenCalledTimes(1);
  });

  it('that the office does not confirm hold the interview back', async () => {
    const hash = await attach('1');
    await packed('1', { answers: { front: hash } });
    vi.mocked(server.handInFile).mockResolvedValue('0'.repeat(64));
    await sync();
    expect(server.handIn).not.toHaveBeenCalled();
    expect([await stateOf('1'), await db.attachments.count()]).toEqual(['packed', 1]);
  });
});

const line = (more: Partial<Schemas['ReleaseLine']> = {}): Schemas['ReleaseLine'] => ({
  questionnaire_id: 1,
  title: { en: 'Wells' },
  number: 1,
  exercises: '',
  identity: 'a'.repeat(32),
  hash: 'h1',
  format: FORMATS.release,
  practice: false,
  ...more,
});
const fileOf = (asked: Schemas['ReleaseLine']): server.ReleaseFile => ({
  number: asked.number,
  questionnaire_id: 1,
  identity: asked.identity,
  hash: asked.hash,
  compiled: { format: asked.format, title: asked.title, languages: ['en'] },
});

describe('releases', () => {
  it('of a form this build cannot read leave the older one in use, and say so', async () => {
    vi.mocked(server.profile).mockResolvedValue(profileOf({ releases: [line()] }));
    vi.mocked(server.fetchRelease).mockResolvedValue(fileOf(line()));
    await sync();
    vi.mocked(server.profile).mockResolvedValue(
      profileOf({ releases: [line({ number: 2, hash: 'h2', identity: 'b'.repeat(32), format: 'skavo-release-99' })] }),
    );
    const outcome = await sync();
    expect(outcome.problem).toContain('needs a newer Skavo');
    expect(await db.releases.toArray()).toMatchObject([{ hash: 'h1', number: 1, newest: 1 }]);
  });

  it('stay while an interview in hand was begun with them, and go when none is left', async () => {
    vi.mocked(server.fetchRelease).mockImplementation((_token, identity) =>
      Promise.resolve(fileOf(line(identity.startsWith('a') ? {} : { number: 2, hash: 'h2', identity }))),
    );
    vi.mocked(server.profile).mockResolvedValue(profileOf({ releases: [line()] }));
    await sync();
    await packed('1', { state: 'in hand', release: 'h1', raw: undefined });
    vi.mocked(server.profile).mockResolvedValue(
      profileOf({ releases: [line({ number: 2, hash: 'h2', identity: 'b'.repeat(32) })] }),
    );
    await sync();
    expect((await db.releases.toArray()).map((r) => [r.hash, r.newest])).toEqual([
      ['h1', 0],
      ['h2', 1],
    ]);
    await db.interviews.delete('1');
    await sync();
    expect((await db.releases.toArray()).map((r) => r.hash)).toEqual(['h2']);
  });

  it('with the content of an earlier one are the newer one from then on', async () => {
    vi.mocked(server.fetchRelease).mockResolvedValue(fileOf(line()));
    vi.mocked(server.profile).mockResolvedValue(profileOf({ releases: [line()] }));
    await sync();
    vi.mocked(server.profile).mockResolvedValue(
      profileOf({ releases: [line({ number: 3, identity: 'c'.repeat(32) })] }),
    );
    await sync();
    expect(await db.releases.toArray()).toMatchObject([{ number: 3, identity: 'c'.repeat(32) }]);
  });
});

describe('what was sent back', () => {
  const sent: Schemas['SentBack'] = {
    uuid: '1',
    number: 7,
    hash: 'f'.repeat(64),
    release: 'a'.repeat(32),
    by: 'Dora Maine',
    at: '2026-03-15T09:00:00Z',
    remarks: [{ path: 'users', text: 'Ask again' }],
  };
  const document = {
    format: FORMATS.interview,
    uuid: '1',
    answers: { users: 900 },
    kept: {},
    language: 'en',
    paradata: { started: '2026-03-14T09:00:00Z', events: [] },
  };

  beforeEach(() => {
    vi.mocked(server.profile).mockResolvedValue(profileOf({ releases: [line()], sent_back: [sent] }));
    vi.mocked(server.fetchRelease).mockResolvedValue(fileOf(line()));
    vi.mocked(server.fetchInterview).mockResolvedValue(JSON.stringify(document));
  });

  it('is in hand again with its answers, its remarks and what it corrects', async () => {
    await sync();
    expect(await readInterview('1')).toMatchObject({
      state: 'in hand',
      path: 'users',
      answers: { users: 900 },
      startedAt: '2026-03-14T09:00:00Z',
      number: 7,
      correction: { basis: 'f'.repeat(64), by: 'Dora Maine', remarks: [{ path: 'users', text: 'Ask again' }] },
    });
  });

  it('is not fetched over a correction that is under way', async () => {
    await sync();
    await changeInterview('1', (row) => ({ ...row, answers: { users: 90 } }));
    vi.mocked(server.profile).mockResolvedValue(
      profileOf({
        releases: [line()],
        sent_back: [{ ...sent, at: '2026-03-16T09:00:00Z', remarks: [{ path: '', text: 'Please' }] }],
      }),
    );
    await sync();
    expect(await readInterview('1')).toMatchObject({
      answers: { users: 90 },
      correction: { remarks: [{ text: 'Please' }] },
    });
    expect(server.fetchInterview).toHaveBeenCalledTimes(1);
  });

  it('that cannot be fetched stops no other', async () => {
    vi.mocked(server.profile).mockResolvedValue(
      profileOf({ releases: [line()], sent_back: [{ ...sent, uuid: '0' }, sent] }),
    );
    vi.mocked(server.fetchInterview).mockImplementation((_token, uuid) =>
      uuid === '0' ? Promise.reject(new Problem('not_found', 'gone', 404)) : Promise.resolve(JSON.stringify(document)),
    );
    expect((await sync()).problem).toBe('');
    expect((await db.interviews.toArray()).map((row) => row.uuid)).toEqual(['1']);
  });
});

it('tells how far the phone’s clock is from the office’s', async () => {
  vi.mocked(server.profile).mockResolvedValue(
    profileOf({ server_time: new Date(Date.now() + 3_600_000).toISOString() }),
  );
  await sync();
  expect((await db.device.get('me'))?.clockAheadSeconds).toBeCloseTo(-3600, -1);
});
