import { beforeEach, expect, it, vi } from 'vitest';
import { Problem, unreachable } from '../../shared/api/client';
import { db, type ReleaseRow } from './db';
import { hashOf } from '../../shared/hash';
import { fetchMedia, forgetOldReleases } from './releases';
import * as server from './server';

vi.mock('./server', async (original) => ({
  ...(await original<typeof import('./server')>()),
  fetchMedia: vi.fn(),
}));

const FILES = ['red', 'blue', 'green'];
const contents = new Map<string, Blob>();
const hashes: string[] = [];

async function release(hash: string, media: string[] | undefined): Promise<void> {
  const row: ReleaseRow = {
    hash,
    number: 1,
    questionnaireId: 1,
    title: {},
    languages: ['en'],
    compiled: '{}',
    newest: 1,
  };
  await db.releases.put(media === undefined ? row : { ...row, media });
}
const held = async () => (await db.media.toCollection().primaryKeys()).sort();

beforeEach(async () => {
  await Promise.all(db.tables.map((table) => table.clear()));
  hashes.length = 0;
  for (const text of FILES) {
    const blob = new Blob([text]);
    const hash = await hashOf(blob);
    hashes.push(hash);
    contents.set(hash, blob);
  }
  vi.mocked(server.fetchMedia).mockReset();
  vi.mocked(server.fetchMedia).mockImplementation((_token, hash) =>
    Promise.resolve(contents.get(hash) ?? new Blob([])),
  );
});

it('fetches what releases show, once, and forgets what none shows any more', async () => {
  await release('a', hashes.slice(0, 2));
  await release('b', undefined);
  await fetchMedia('t');
  expect(await held()).toEqual(hashes.slice(0, 2).sort());
  await release('a', hashes.slice(1));
  await fetchMedia('t');
  expect(await held()).toEqual(hashes.slice(1).sort());
  expect(server.fetchMedia).toHaveBeenCalledTimes(3);
});

it('reads what a release shows that an earlier build of the page fetched', async () => {
  const file = { hash: hashes[0], type: 'image/webp', bytes: 3, said: {} };
  await release('a', undefined);
  await db.releases.update('a', { compiled: JSON.stringify({ media: { 'a.png': { en: file, fr: file } } }) });
  await fetchMedia('t');
  expect(await held()).toEqual(hashes.slice(0, 1));
});

it('fetches the others where one cannot be had, and says so', async () => {
  await release('a', hashes);
  vi.mocked(server.fetchMedia).mockImplementation((_token, hash) =>
    hash === hashes[0]
      ? Promise.reject(new Problem('file_missing', 'gone', 404))
      : Promise.resolve(contents.get(hash) ?? new Blob([])),
  );
  await expect(fetchMedia('t')).rejects.toThrow('gone');
  expect(await held()).toEqual(hashes.slice(1).sort());
});

it('stops where the network ends, and goes on the next time', async () => {
  await release('a', hashes);
  vi.mocked(server.fetchMedia).mockRejectedValueOnce(unreachable());
  await expect(fetchMedia('t')).rejects.toMatchObject({ code: 'unreachable' });
  expect(await held()).toEqual([]);
  await fetchMedia('t');
  expect(await held()).toEqual([...hashes].sort());
});

it('keeps nothing that changed on its way', async () => {
  await release('a', hashes.slice(0, 1));
  vi.mocked(server.fetchMedia).mockResolvedValue(new Blob(['cut of']));
  await expect(fetchMedia('t')).rejects.toThrow();
  expect(await held()).toEqual([]);
});

it('begins no interview with a release that was withdrawn, and keeps it for those in hand', async () => {
  await release('a', []);
  await release('b', []);
  await forgetOldReleases([], ['a']);
  expect((await db.releases.toArray()).map((row) => [row.hash, row.newest])).toEqual([
    ['a', 0],
    ['b', 1],
  ]);
});
