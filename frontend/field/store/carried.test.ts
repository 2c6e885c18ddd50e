import { zipSync } from 'fflate';
import { beforeEach, expect, it, vi } from 'vitest';
import { Problem, type Schemas } from '../../shared/api/client';
import { freshPhone } from '../../testing/phone';
import { NoBundle, putAway, sendCarried, takeAlong, waitingAlong } from './carried';
import { db } from './db';
import * as server from './server';

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

/** An office that keeps what arrives; the network breaks off once after so many pieces. Returns the ranges that came. */
function office(breaksAfter = Infinity) {
  let received = 0;
  let pieces = 0;
  const ranges: string[] = [];
  const answer = async (_address: string, { method, headers, body }: RequestInit): Promise<Response> => {
    if (method === 'PUT') {
      pieces += 1;
      if (pieces === breaksAfter + 1) throw new TypeError('no network');
      ranges.push(new Headers(headers).get('Content-Range') ?? '');
      received += (await (body as Blob).arrayBuffer()).byteLength;
    }
    return Response.json({ received, told: received === content.length ? told : null });
  };
  vi.stubGlobal('fetch', vi.fn(answer));
  return ranges;
}

beforeEach(async () => {
  vi.unstubAllGlobals();
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
  const refusal = { code: 'other_study', title: 'It is of another study.', details: {} };
  vi.mocked(fetch).mockResolvedValueOnce(Response.json(refusal, { status: 422 }));
  expect(await send()).toBe(1);
  const rows = await db.carried.toArray();
  expect(rows.map((row) => row.problem).filter((one) => one !== undefined)).toEqual(['other_study']);
  expect(await waitingAlong()).toBe(1);
});

it('takes the answer that was lost, without sending anything again', async () => {
  await takeAlong(file());
  const asked = vi.fn(() => Promise.resolve(Response.json({ received: content.length, told })));
  vi.stubGlobal('fetch', asked);
  expect(await send()).toBe(1);
  expect(asked).toHaveBeenCalledOnce();
});
