import { strFromU8, unzipSync } from 'fflate';
import { expect, it, vi } from 'vitest';
import { saveAll } from './bundle';
import { db, type InterviewRow } from './db';
import { hashOf } from './interviews';

vi.mock('../../shared/engine/client', () => ({
  theEngine: () => ({ call: () => Promise.reject(new Error('The engine could not start.')) }),
}));

const row = (uuid: string, more: Partial<InterviewRow>): InterviewRow => ({
  uuid,
  state: 'in hand',
  release: 'r'.repeat(64),
  releaseIdentity: 'i',
  title: 'Wells',
  label: '',
  labelPath: '',
  stoppedAt: '',
  open: 0,
  startedAt: '2026-03-14T09:00:00Z',
  changedAt: '1',
  practice: 0,
  path: null,
  answers: { users: 3 },
  kept: {},
  language: 'en',
  events: [],
  ...more,
});

it('holds every interview that is not handed in, with its files and their hashes, even without an engine', async () => {
  await db.device.put({
    id: 'me',
    token: 't',
    device: 'phone 01',
    enumerator: 'Ilse Varn',
    study: 'Wells',
    pairedAt: '',
    heardAt: '',
  });
  await db.interviews.bulkPut([
    row('u1', {}),
    row('u2', { state: 'packed', raw: '{"word":"for word"}' }),
    row('u3', { state: 'handed in' }),
  ]);
  const content = new Blob(['a picture']);
  const hash = await hashOf(content);
  await db.attachments.put({ interview: 'u1', hash, kind: 'photo', content, confirmed: 0 });

  const bundle = await saveAll();
  expect([bundle.interviews, bundle.name]).toEqual([
    2,
    expect.stringMatching(/^phone-01-\d{4}-\d\d-\d\d\.skavo\.zip$/),
  ]);
  const entries = unzipSync(new Uint8Array(await bundle.content.arrayBuffer()));
  expect(Object.keys(entries).sort()).toEqual([
    'bundle.json',
    `files/u1/photo-${hash}`,
    'interviews/u1.json',
    'interviews/u2.json',
  ]);
  const text = (name: string) => strFromU8(entries[name] ?? new Uint8Array());
  expect(text('interviews/u2.json')).toBe('{"word":"for word"}');
  expect(JSON.parse(text('interviews/u1.json'))).toMatchObject({
    uuid: 'u1',
    answers: { users: 3 },
    unfinished: 'Saved to a file before it was packed',
  });
  const index = JSON.parse(text('bundle.json')) as { entries: Record<string, string> };
  expect(index.entries['interviews/u1.json']).toBe(await hashOf(text('interviews/u1.json')));
});
