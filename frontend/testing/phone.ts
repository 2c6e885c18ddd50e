// A phone in tests: paired, with a vault that has no PIN, and interviews as they are kept on it.
import { ORDINARY_PROFILE } from '../shared/api/contract';
import { db, type DeviceRow, type Interview, type Settings } from '../field/store/db';
import { addInterview } from '../field/store/kept';
import { enterWithoutPin, makeVault, toBase64 } from '../field/store/vault';

export const SETTINGS: Settings = { ...ORDINARY_PROFILE, pin: false };

/** Nothing on the phone but what pairing leaves there, and an open vault. */
export async function freshPhone(more: Partial<DeviceRow> = {}): Promise<void> {
  await Promise.all(db.tables.filter((table) => table.name !== 'vault').map((table) => table.clear()));
  if (!(await enterWithoutPin())) await makeVault('');
  await db.device.put({
    id: 'me',
    token: 't',
    device: 'phone 01',
    enumerator: 'Ilse Varn',
    study: 'Wells',
    pairedAt: '',
    heardAt: '',
    settings: SETTINGS,
    ...more,
  });
}

export const anInterview = (uuid: string, more: Partial<Interview> = {}): Interview => ({
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
  changedAt: '2026-03-14T09:10:00Z',
  practice: 0,
  path: null,
  answers: {},
  kept: {},
  language: 'en',
  events: [],
  ...more,
});

/** Put an interview on the phone in place of whatever has its name. */
export async function keepsInterview(uuid: string, more: Partial<Interview> = {}): Promise<Interview> {
  const interview = anInterview(uuid, more);
  await db.interviews.delete(uuid);
  await addInterview(interview);
  return interview;
}

/** The public key of a study that nobody knows the other half of. */
export async function newStudyKey(): Promise<string> {
  const form = { name: 'RSA-OAEP', hash: 'SHA-256', modulusLength: 2048, publicExponent: new Uint8Array([1, 0, 1]) };
  const pair = await crypto.subtle.generateKey(form, true, ['encrypt', 'decrypt']);
  return toBase64(await crypto.subtle.exportKey('spki', pair.publicKey));
}
