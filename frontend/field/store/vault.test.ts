import { beforeEach, describe, expect, it, vi } from 'vitest';
import { freshPhone, keepsInterview, newStudyKey } from '../../testing/phone';
import { accessOf, deviceToken, enter, lockPhone, settlePin } from './access';
import { db } from './db';
import { keepFile } from './files';
import { hashOf } from '../../shared/hash';
import { changeInterview, listInterviews, readInterview } from './kept';
import { pinFault } from './pins';
import * as vault from './vault';

const text = async (sealed: Blob | undefined) => (await vault.unsealFile(sealed ?? new Blob(), '')).text();
const stored = async (): Promise<string> =>
  JSON.stringify(await Promise.all(db.tables.map((table) => table.toArray())), (_, value: unknown) =>
    value instanceof Uint8Array ? new TextDecoder('latin1').decode(value) : value,
  );

beforeEach(async () => {
  vault.lock(false);
  await db.vault.clear();
  await freshPhone();
});

describe('the vault', () => {
  it('keeps an interview so that nothing of it can be read where it lies, and gives it back', async () => {
    await keepsInterview('u', { label: 'Kettle Corner', answers: { owner: 'Anselm', phone: '555 8130' } });
    const lies = await stored();
    expect(['Kettle Corner', 'Anselm', '8130'].filter((secret) => lies.includes(secret))).toEqual([]);
    expect(lies).toContain('Ilse Varn');
    expect(await readInterview('u')).toMatchObject({ label: 'Kettle Corner', answers: { owner: 'Anselm' } });
  });

  it('seals a file of several pieces, and reads it from any place', async () => {
    const content = new Blob([new Uint8Array((1 << 20) + 7).map((_, at) => at % 251)]);
    const sealed = await vault.sealFile(content);
    expect(await hashOf(await vault.unsealFile(sealed, ''))).toBe(await hashOf(content));
    expect([...(await vault.unsealPiece(sealed, (1 << 20) + 4))]).toEqual([4, 5, 6].map((n) => ((1 << 20) + n) % 251));
    expect((await vault.unsealPiece(sealed, (1 << 20) + 7)).length).toBe(0);
    expect((await vault.unsealFile(await vault.sealFile(new Blob([])), '')).size).toBe(0);
  });

  it('opens with its PIN only, and shows nothing while it is locked', async () => {
    await keepsInterview('u', { answers: { owner: 'Anselm' } });
    await settlePin('204817');
    await lockPhone();
    await expect(readInterview('u')).rejects.toThrow(vault.Locked);
    await expect(enter('204818')).rejects.toThrow(vault.WrongPin);
    await enter('204817');
    expect(await readInterview('u')).toMatchObject({ answers: { owner: 'Anselm' } });
  });

  it('has another key with its first PIN: what was wrapped without one opens nothing any more', async () => {
    await keepsInterview('u', { answers: { owner: 'Anselm' } });
    const photo = await keepFile('u', new Blob(['a face']), 'f.png', 'photo');
    const [former] = await db.vault.toArray();
    await settlePin('204817');
    expect(await db.vault.toArray()).toMatchObject([{ generation: 2, pinned: true }]);
    vault.lock(false);
    await db.vault.clear();
    if (former) await db.vault.add(former);
    await vault.enterWithoutPin();
    await expect(readInterview('u')).rejects.toThrow(vault.Locked);
    await expect(text((await db.attachments.get(['u', photo.file]))?.sealed)).rejects.toThrow(vault.Locked);
    expect((await db.device.get('me'))?.token).toBeUndefined();
  });

  it('goes on sealing anew where that broke off', async () => {
    await keepsInterview('u', { answers: { owner: 'Anselm' } });
    await vault.choosePin('204817');
    vault.lock(false);
    await enter('204817');
    expect(await db.vault.count()).toBe(1);
    expect(await readInterview('u')).toMatchObject({ answers: { owner: 'Anselm' } });
  });

  it('keeps nothing that a page seals under a key that another page has replaced', async () => {
    await keepsInterview('u', { answers: { owner: 'Anselm' } });
    // Another tab chooses a PIN meanwhile: its key is here on the disk, and not in this page.
    const random = new Uint8Array(16);
    await db.vault.add({ generation: 2, pinned: true, salt: random, turns: 1, wrapped: random, wrong: 0 });
    await expect(changeInterview('u', (now) => ({ ...now, open: 9 }))).rejects.toThrow(vault.Locked);
    await expect(keepsInterview('v')).rejects.toThrow(vault.Locked);
    await expect(keepFile('u', new Blob(['x']), 'x.png', 'file')).rejects.toThrow(vault.Locked);
    expect([await db.interviews.count(), await db.attachments.count()]).toEqual([1, 0]);
    expect(await accessOf(await db.device.get('me'))).toBe('locked');
    await db.vault.delete(2);
  });

  it('goes on sealing what an earlier build kept, where that was interrupted', async () => {
    vault.lock(false);
    await db
      .table('interviews')
      .add({ uuid: 'u', state: 'packed', changedAt: '1', label: 'Kettle Corner', events: [] });
    await db.vault.toCollection().modify({ whole: undefined });
    expect(await accessOf(await db.device.get('me'))).toBe('open');
    expect(await stored()).not.toContain('Kettle Corner');
    expect((await readInterview('u'))?.label).toBe('Kettle Corner');
  });

  it('changes its PIN without another key', async () => {
    await settlePin('204817');
    await keepsInterview('u', { answers: { owner: 'Anselm' } });
    await settlePin('930142');
    vault.lock(false);
    await expect(enter('204817')).rejects.toThrow(vault.WrongPin);
    await enter('930142');
    expect(await readInterview('u')).toMatchObject({ answers: { owner: 'Anselm' } });
  });

  it('takes longer with every wrong PIN, whatever the clock is set to', async () => {
    expect([1, 3, 4, 5, 6, 30].map(vault.waitAfter)).toEqual([0, 0, 15, 30, 60, 3600]);
    await settlePin('204817');
    vault.lock(false);
    for (let n = 0; n < 4; n += 1) await expect(enter('111')).rejects.toThrow(vault.WrongPin);
    await expect(enter('204817')).rejects.toMatchObject({ secondsLeft: 15 });
    const waits = { wrongAt: 1_000_000, waitUntil: 1_015_000 };
    vi.spyOn(Date, 'now').mockReturnValue(10);
    expect(vault.secondsLeft(waits)).toBe(15);
    vi.spyOn(Date, 'now').mockReturnValue(1_014_001);
    expect(vault.secondsLeft(waits)).toBe(1);
    vi.restoreAllMocks();
    await db.vault.update(2, { waitUntil: undefined });
    await enter('204817');
    expect(await db.vault.toArray()).toMatchObject([{ wrong: 0 }]);
  });

  it('can still send what is packed after it was locked, and forgets even that afterwards', async () => {
    await settlePin('204817');
    await keepsInterview('u', { state: 'packed', raw: '{}' });
    await lockPhone();
    expect([vault.isOpen(), vault.canSend()]).toEqual([false, true]);
    const device = await db.device.get('me');
    expect(device && (await deviceToken(device))).toBe('t');
    vault.forgetKeys();
    expect(vault.canSend()).toBe(false);
    expect(device && (await deviceToken(device))).toBeNull();
  });

  it('is opened by the office with the study’s key, and by nobody without it', async () => {
    const form = { name: 'RSA-OAEP', hash: 'SHA-256', modulusLength: 2048, publicExponent: new Uint8Array([1, 0, 1]) };
    const office = await crypto.subtle.generateKey(form, true, ['encrypt', 'decrypt']);
    const studyKey = vault.toBase64(await crypto.subtle.exportKey('spki', office.publicKey));
    await db.device.update('me', { studyKey });
    await settlePin('204817');
    await keepsInterview('u', { answers: { owner: 'Anselm' } });
    vault.lock(false);

    const asked = await vault.askOffice();
    expect(asked.study_key).toBe(await vault.fingerprintOf(studyKey));
    const secret = await crypto.subtle.decrypt(form, office.privateKey, vault.fromBase64(asked.wrapped));
    const phone = await crypto.subtle.importKey('spki', vault.fromBase64(asked.public), form, false, ['encrypt']);
    expect((await vault.askOffice()).public).toBe(asked.public);
    await expect(vault.enterByOffice(vault.toBase64(new Uint8Array(256)))).rejects.toThrow();
    await vault.enterByOffice(vault.toBase64(await crypto.subtle.encrypt(form, phone, secret)));
    expect(await accessOf(await db.device.get('me'))).toBe('choose');
    await settlePin('930142');
    vault.lock(false);
    await enter('930142');
    expect(await readInterview('u')).toMatchObject({ answers: { owner: 'Anselm' } });
  });
});

describe('where the phone stands', () => {
  const settings = async (pin: boolean) => {
    const before = await db.device.get('me');
    await db.device.update('me', { settings: before?.settings && { ...before.settings, pin } });
    return db.device.get('me');
  };

  it('waits for the office when it is new, then wants a PIN where the profile asks for one', async () => {
    vault.lock(false);
    await db.vault.clear();
    expect(await accessOf(undefined)).toBe('unpaired');
    await db.device.update('me', { settings: undefined });
    expect(await accessOf(await db.device.get('me'))).toBe('waiting');
    await freshPhone();
    vault.lock(false);
    await db.vault.clear();
    expect(await accessOf(await settings(true))).toBe('choose');
    expect(await db.vault.count()).toBe(0);
    await settlePin('204817');
    expect(await accessOf(await db.device.get('me'))).toBe('open');
    vault.lock(false);
    expect(await accessOf(await db.device.get('me'))).toBe('locked');
  });

  it('is open at once where no PIN is asked for, and wants one when the profile changes', async () => {
    vault.lock(false);
    expect(await accessOf(await settings(false))).toBe('open');
    expect(await accessOf(await settings(true))).toBe('choose');
  });
});

it('brings under its key what an earlier build kept in the open', async () => {
  vault.lock(false);
  await db.vault.clear();
  await db.device.update('me', { settings: undefined, token: 'open' });
  const former = { uuid: 'u', state: 'packed', release: 'h', changedAt: '1', label: 'Kettle Corner', raw: '{"a":1}' };
  await db.table('interviews').add({ ...former, answers: { owner: 'Anselm' }, kept: {}, events: [], path: null });
  const hash = 'f'.repeat(64);
  await db.table('attachments').add({ interview: 'u', hash, kind: 'photo', confirmed: 0, content: new Blob(['face']) });

  expect(await accessOf(await db.device.get('me'))).toBe('open');
  const lies = await stored();
  expect(['Kettle Corner', 'Anselm', '"token":"open"'].filter((secret) => lies.includes(secret))).toEqual([]);
  expect(await listInterviews()).toMatchObject([{ uuid: 'u', state: 'packed', label: 'Kettle Corner' }]);
  expect(await readInterview('u')).toMatchObject({ raw: '{"a":1}' });
  expect(await text((await db.attachments.get(['u', hash]))?.sealed)).toBe('face');
});

it('refuses the PINs that are tried first', () => {
  const faults = ['12345', '123456', '654321', '777777', '121212', '204817', '1357924'].map(pinFault);
  expect(faults).toEqual(['pinTooShort', 'pinTooEasy', 'pinTooEasy', 'pinTooEasy', 'pinTooEasy', null, null]);
});

it('wraps its key for a study once', async () => {
  const studyKey = await newStudyKey();
  await vault.wrapForStudy(studyKey);
  const [first] = await db.vault.toArray();
  await vault.wrapForStudy(studyKey);
  expect((await db.vault.toArray())[0]?.forStudy).toBe(first?.forStudy);
});
