import { beforeEach, expect, it, vi } from 'vitest';
import { unreachable, type Schemas } from '../../shared/api/client';
import { freshPhone } from '../../testing/phone';
import { db } from './db';
import * as server from './server';
import { holdSheets, PIECE_BYTES, readSheet, shareOf } from './sheets';

vi.mock('./server', async (original) => ({
  ...(await original<typeof import('./server')>()),
  fetchSheet: vi.fn(),
}));

const content = Uint8Array.from({ length: 2 * PIECE_BYTES + 700 }, (_, at) => (at * 7 + (at >> 12)) % 251);

const line = (hash: string, bytes = content.length): Schemas['SheetLine'] => ({
  id: 1,
  name: 'Isles',
  form: 'tiles',
  hash,
  bytes,
  bounds: [-123, -48, -121, -46],
  kind: 'pictures',
  min_zoom: 0,
  max_zoom: 12,
  layers: [],
  attribution: '',
});

const hashes = async () => (await db.sheets.toArray()).map((row) => [row.hash, row.whole]);

beforeEach(async () => {
  vi.mocked(server.fetchSheet).mockReset();
  vi.mocked(server.fetchSheet).mockImplementation((_token, _hash, from, to) =>
    Promise.resolve(content.slice(from, to).buffer),
  );
  await freshPhone();
});

it('fetches a sheet in pieces, goes on where it broke off, and reads any bytes of it', async () => {
  vi.mocked(server.fetchSheet).mockImplementationOnce((_token, _hash, from, to) =>
    Promise.resolve(content.slice(from, to).buffer),
  );
  vi.mocked(server.fetchSheet).mockRejectedValueOnce(unreachable());
  await expect(holdSheets('t', [line('a')], true)).rejects.toThrow();
  const [row] = await db.sheets.toArray();
  expect([row?.whole, row === undefined ? 0 : (await shareOf(row)).toFixed(2)]).toEqual([0, '0.50']);
  await holdSheets('t', [line('a')], true);
  expect(vi.mocked(server.fetchSheet).mock.calls.map(([, , from]) => from / PIECE_BYTES)).toEqual([0, 1, 1, 2]);
  expect(await hashes()).toEqual([['a', 1]]);
  for (const [from, length] of [
    [0, 5],
    [PIECE_BYTES - 2, 4],
    [PIECE_BYTES, PIECE_BYTES],
    [3, 2 * PIECE_BYTES],
    [2 * PIECE_BYTES + 690, 10],
  ] as const)
    expect(Buffer.from(await readSheet('a', from, length)).equals(content.slice(from, from + length))).toBe(true);
});

it('forgets what is no longer wanted, and fetches nothing where that costs', async () => {
  await holdSheets('t', [line('a')], true);
  await holdSheets('t', [line('b', 10)], false);
  expect(await hashes()).toEqual([['b', 0]]);
  expect(await db.sheetPieces.count()).toBe(0);
  await holdSheets('t', [line('b', 10)], true);
  expect(await hashes()).toEqual([['b', 1]]);
  await holdSheets('t', [], true);
  expect([await hashes(), await db.sheetPieces.count()]).toEqual([[], 0]);
});
