import { expect, it } from 'vitest';
import { freshPhone, keepsInterview, SETTINGS } from '../../testing/phone';
import { db } from './db';
import { forgetOld, letGo } from './keeping';
import { readInterview } from './kept';
import { fitted, reduced } from './photos';
import { languagesOf } from './settings';
import { sealFile } from './vault';

it('fits a photo into the longer side that the profile names, and leaves a smaller one alone', () => {
  expect(fitted(4000, 3000, 1600)).toEqual({ width: 1600, height: 1200 });
  expect(fitted(3000, 4000, 1600)).toEqual({ width: 1200, height: 1600 });
  expect(fitted(9000, 3, 320)).toEqual({ width: 320, height: 1 });
  expect(fitted(1600, 900, 1600)).toBeNull();
});

it('keeps a photo that it cannot read as it is', async () => {
  const broken = new Blob(['no picture']);
  expect(await reduced(broken, 320, 50)).toBe(broken);
});

it('leads interviews in the profile’s languages, as far as the questionnaire speaks them', () => {
  const wants = (languages: string[]) => ({ ...SETTINGS, languages });
  expect(languagesOf(['en', 'fr', 'ar'], wants(['ar', 'sw', 'fr']))).toEqual(['ar', 'fr']);
  expect(languagesOf(['en', 'fr'], wants(['sw']))).toEqual(['en', 'fr']);
  expect(languagesOf(['en', 'fr'], wants([]))).toEqual(['en', 'fr']);
});

async function packed(uuid: string): Promise<void> {
  await keepsInterview(uuid, { state: 'packed', raw: '{}', hash: 'h', label: 'Kettle Corner', answers: { a: 1 } });
  const sealed = await sealFile(new Blob(['x']));
  await db.attachments.put({ interview: uuid, hash: 'f', kind: 'photo', bytes: 1, type: '', sealed, confirmed: 1 });
}

it('keeps after handing in what the profile says, and for as long', async () => {
  await freshPhone();
  await packed('list');
  await letGo({ uuid: 'list', hash: 'h' }, 1);
  expect(await readInterview('list')).toMatchObject({ state: 'handed in', label: '', answers: {}, number: 1 });
  expect(await db.attachments.count()).toBe(0);

  await db.device.update('me', { settings: { ...SETTINGS, keeps: 'all', keeps_days: 7 } });
  await packed('all');
  await letGo({ uuid: 'all', hash: 'h' }, 2);
  expect(await readInterview('all')).toMatchObject({ label: 'Kettle Corner', answers: { a: 1 } });
  expect(await db.attachments.count()).toBe(1);
  await forgetOld();
  expect(await db.interviews.count()).toBe(2);
  await db.interviews.toCollection().modify({ changedAt: new Date(Date.now() - 8 * 86_400_000).toISOString() });
  await forgetOld();
  expect([await db.interviews.count(), await db.attachments.count()]).toEqual([0, 0]);

  await db.device.update('me', { settings: { ...SETTINGS, keeps: 'nothing' } });
  await packed('gone');
  await letGo({ uuid: 'gone', hash: 'h' }, 3);
  await new Promise((resolve) => setTimeout(resolve, 5));
  await forgetOld();
  expect(await db.interviews.count()).toBe(0);
});
