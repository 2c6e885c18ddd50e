import { strFromU8, unzipSync } from 'fflate';
import { beforeEach, expect, it } from 'vitest';
import { FORMATS } from '../../shared/api/contract';
import { freshPhone, keepsInterview } from '../../testing/phone';
import { NoReceipts, readReceipts, saveAll } from './bundle';
import { db } from './db';
import { hashOf } from '../../shared/hash';
import { sealFile, sealJson, toBase64, unsealFile, unsealJson } from './vault';

beforeEach(() => freshPhone());

async function saved(): Promise<Record<string, Uint8Array<ArrayBuffer>>> {
  const { content } = await saveAll();
  return unzipSync(new Uint8Array(await content.arrayBuffer()));
}

it('holds every interview that is not handed in, with its files, sealed as they lie here', async () => {
  await keepsInterview('u1', { answers: { users: 3 }, label: 'North well' });
  await keepsInterview('u2', { state: 'packed', raw: '{"word":"for word"}' });
  await keepsInterview('u3', { state: 'handed in' });
  const content = new Blob(['a picture']);
  const hash = await hashOf(content);
  const sealed = await sealFile(content);
  await db.attachments.put({ interview: 'u1', hash, kind: 'photo', bytes: 9, type: '', sealed, confirmed: 0 });

  const bundle = await saveAll();
  expect([bundle.interviews, bundle.name]).toEqual([
    2,
    expect.stringMatching(/^phone-01-\d{4}-\d\d-\d\d\.skavo\.zip$/),
  ]);
  const entries = await saved();
  const photo = `files/u1/photo-${hash}.sealed`;
  expect(Object.keys(entries).sort()).toEqual([
    'bundle.json',
    photo,
    'interviews/u1.name',
    'interviews/u1.sealed',
    'interviews/u2.name',
    'interviews/u2.sealed',
  ]);
  const entry = (name: string) => entries[name] ?? new Uint8Array();
  expect(await unsealJson(entry('interviews/u1.sealed'))).toMatchObject({ answers: { users: 3 } });
  expect(await unsealJson(entry('interviews/u2.sealed'))).toMatchObject({ raw: '{"word":"for word"}' });
  expect(await (await unsealFile(new Blob([entry(photo)]), '')).text()).toBe('a picture');

  const index = JSON.parse(strFromU8(entry('bundle.json'))) as Record<string, Record<string, unknown>>;
  expect(index.entries?.['interviews/u1.sealed']).toBe(await hashOf(new Blob([entry('interviews/u1.sealed')])));
  expect(index.interviews?.u1).toMatchObject({ uuid: 'u1', state: 'in hand', language: 'en' });
  const open = strFromU8(entry('bundle.json'));
  expect(['North well', 'for word', 'users'].filter((secret) => open.includes(secret))).toEqual([]);
});

const receipts = async (sealed: Promise<Uint8Array<ArrayBuffer>>, format: string = FORMATS.receipts) =>
  new Blob([JSON.stringify({ format, device: 'phone 01', sealed: toBase64(await sealed) })]);

it('lets go of what receipts under its own key are for, and of nothing else', async () => {
  const raw = '{"u":1}';
  const hash = await hashOf(raw);
  await keepsInterview('u1', { state: 'packed', raw, hash });
  await keepsInterview('u2', { state: 'packed', raw, hash: 'f'.repeat(64) });
  const told = { receipts: ['u1', 'u2', 'u9'].map((uuid) => ({ uuid, hash, number: 7 })) };
  expect(await readReceipts(await receipts(sealJson(told)))).toBe(1);
  expect((await db.interviews.toArray()).map((row) => [row.uuid, row.state, row.number])).toEqual([
    ['u1', 'handed in', 7],
    ['u2', 'packed', undefined],
  ]);
});

it('believes no receipts that somebody else wrote, and no other file', async () => {
  await keepsInterview('u1', { state: 'packed', raw: '{}', hash: 'a'.repeat(64) });
  const forged = sealJson({ receipts: [{ uuid: 'u1', hash: 'a'.repeat(64), number: 1 }] }).then((sealed) => {
    sealed[20] = (sealed[20] ?? 0) ^ 1;
    return sealed;
  });
  await expect(readReceipts(await receipts(forged))).rejects.toThrow(NoReceipts);
  await expect(readReceipts(await receipts(sealJson({ receipts: [] }), 'skavo-bundle-2'))).rejects.toThrow(NoReceipts);
  await expect(readReceipts(new Blob(['PK']))).rejects.toThrow(NoReceipts);
  expect(await db.interviews.where('state').equals('packed').count()).toBe(1);
});
