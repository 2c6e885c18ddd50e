import { zipSync } from 'fflate';
import { beforeEach, expect, it, vi } from 'vitest';
import { Problem, unreachable, type Schemas } from '../../shared/api/client';
import { freshPhone } from '../../testing/phone';
import { NoBundle, putAway, sendCarried, takeAlong, waitingAlong } from './carried';
import { db } from './db';
import * as server from './server';

vi.mock('./server', async (original) => ({
  ...(await original<typeof import('./server')>()),
  carried: vi.fn(),
  carryIn: vi.fn(),
}));

const MIB = 1 << 20;
const content = zipSync({ 'bundle.json': new Uint8Array(2.5 * MIB) }, { level: 0 });
const file = (bytes = content, name = 'phone-02.skavo.zip') => new File([bytes], name);

const told: Schemas['BundleOut'] = {
  device: 'phone 02',
  enumerator: 'Osk Perrin',
  arrived: 3,
  known: 0,
  revisions: 0,
  not_laid_out: 0,
  files: 1,
  in_hand: 0,
  receipts: { format: 'skavo-receipts-1', device: 'phone 02', sealed: 'AA' },
};

const stops = (error: unknown) => server.isUnreachable(error);
const send = () => sendCarried('t', stops, (error) => (error instanceof Problem ? error.code : 'other'));

/** An office that keeps what arrives; the network breaks off once after so many pieces. */
function office(breaksAfter = Infinity) {
  let received = 0;
  let pieces = 0;
  const ranges: string[] = [];
  vi.mocked(server.carried).mockImplementation(() => Promise.resolve({ received, told: null }));
  vi.mocked(server.carryIn).mockImplementation((_token, _name, piece, range) => {
    pieces += 1;
    if (pieces === breaksAfter + 1) return Promise.reject(unreachable());
    ranges.push(range);
    received += piece.size;
    return Promise.resolve({ received, told: received === content.length ? told : null });
  });
  return ranges;
}

beforeEach(async () => {
  vi.resetAllMocks();
  await freshPhone();
});

it('takes a whole file along once, and nothing else', async () => {
  await takeAlong(file());
  await takeAlong(file());
  expect(await waitingAlong()).toBe(1);
  await expect(takeAlong(file(content.slice(0, MIB)))).rejects.toThrow(NoBundle);
  await expect(takeAlong(new File(['a letter'], 'letter.zip'))).rejects.toThrow(NoBundle);
  expect(await db.carried.count()).toBe(1);
});

it('sends it in pieces and goes on where the network broke off', async () => {
  const ranges = office(2);
  await takeAlong(file());
  await expect(send()).rejects.toThrow();
  expect(await waitingAlong()).toBe(1);
  expect(await send()).toBe(1);
  const whole = String(content.length);
  expect(ranges).toEqual([
    `bytes 0-${String(MIB - 1)}/${whole}`,
    `bytes ${String(MIB)}-${String(2 * MIB - 1)}/${whole}`,
    `bytes ${String(2 * MIB)}-${String(content.length - 1)}/${whole}`,
  ]);
  const [row] = await db.carried.toArray();
  expect([row?.told, row?.content.size, await waitingAlong()]).toEqual([told, 0, 0]);
  expect(await send()).toBe(0);
  await putAway(row?.name ?? '');
  expect(await db.carried.count()).toBe(0);
});

it('keeps a file that the office does not take, says why, and sends the others', async () => {
  office();
  await takeAlong(file(content, 'a.skavo.zip'));
  await takeAlong(file(content, 'b.skavo.zip'));
  vi.mocked(server.carried).mockRejectedValueOnce(new Problem('other_study', 'It is of another study.', 422));
  expect(await send()).toBe(1);
  const rows = await db.carried.toArray();
  expect(rows.map((row) => row.problem).filter((one) => one !== undefined)).toEqual(['other_study']);
  expect(await waitingAlong()).toBe(1);
});
