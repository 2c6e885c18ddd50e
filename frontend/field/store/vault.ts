// The vault of the phone: a key for everything it keeps of interviews. The PIN opens it, and so can the office, for whose
// public key it is wrapped; nobody else. AES-256-GCM (NIST SP 800-38D), PBKDF2-HMAC-SHA-256 (RFC 8018), RSA-OAEP
// (RFC 8017), all of them the browser's own. Storage keeps what was overwritten in it for a while: so a vault that had
// no PIN gets another key with its first one, and what is sealed names the generation of its key.
import { db, type VaultRow } from './db';
import { TURNS } from './turns';

const NONCE_BYTES = 12;
const PIECE_BYTES = 1 << 20;
const SEALED_PIECE_BYTES = 1 + NONCE_BYTES + PIECE_BYTES + 16;
const FREE_TRIES = 3;
const FIRST_WAIT_SECONDS = 15;
const MOST_WAIT_SECONDS = 3600;

type Bytes = Uint8Array<ArrayBuffer>;

/** What a locked phone says; `secondsLeft` is how long no PIN is looked at. */
export class WrongPin extends Error {
  constructor(readonly secondsLeft: number) {
    super('wrong PIN');
  }
}

export class Locked extends Error {
  constructor() {
    super('The phone is locked.');
  }
}

/** The keys by generation; `raw`, the newest one's bytes, is there while the vault is open. */
const keys = new Map<number, CryptoKey>();
let raw: Bytes | null = null;
let fromOffice = false;
const listeners = new Set<() => void>();

export function onVault(listener: () => void): () => void {
  listeners.add(listener);
  return () => {
    listeners.delete(listener);
  };
}

function tell(): void {
  for (const listener of listeners) listener();
}

/** Open, with a PIN or without one as it was chosen; after the office let somebody in, not before they chose another. */
export const isOpen = (): boolean => raw !== null && !fromOffice;
/** The office has let somebody in, who is to choose a PIN now. */
export const isLetIn = (): boolean => fromOffice;
/** Whether what is packed can be sent, open or locked. */
export const canSend = (): boolean => keys.size > 0;

/** Whether a PIN opens the vault. */
export const isPinned = async (): Promise<boolean> => (await kept())?.pinned === true;

const kept = (): Promise<VaultRow | undefined> => db.vault.orderBy('generation').last();

/** Make the vault of a phone that has none, under a PIN or "" for none, and open it. */
export async function makeVault(pin: string): Promise<void> {
  const generation = ((await kept())?.generation ?? 0) + 1;
  const secret = random(32);
  await db.vault.add({ generation, pinned: pin !== '', ...(await wrappedBy(pin, secret)), wrong: 0 });
  await take(generation, secret);
}

/** Open a vault that has no PIN; false where it has one, or where there is none. */
export async function enterWithoutPin(): Promise<boolean> {
  const newest = await kept();
  if (newest === undefined || newest.pinned) return false;
  if (raw === null) await takeAll(newest, '');
  return true;
}

/** Open the vault; throw WrongPin where the PIN is another one or is not looked at yet. */
export async function openVault(pin: string): Promise<void> {
  const newest = await kept();
  if (newest === undefined) throw new Locked();
  const left = secondsLeft(newest);
  if (left > 0) throw new WrongPin(left);
  try {
    await takeAll(newest, pin);
  } catch (error) {
    if (!isRefusal(error)) throw error;
    const wrong = newest.wrong + 1;
    const wait = waitAfter(wrong);
    const wrongAt = Date.now();
    await db.vault.update(newest.generation, { wrong, wrongAt, waitUntil: wrongAt + wait * 1000 });
    throw new WrongPin(wait);
  }
  await db.vault.update(newest.generation, { wrong: 0, waitUntil: undefined });
}

async function takeAll(newest: VaultRow, pin: string): Promise<void> {
  const secret = await unwrapped(newest, pin);
  // Where another key came with the first PIN and not everything is under it yet, the former had none.
  for (const former of await db.vault.where('generation').below(newest.generation).toArray())
    keys.set(former.generation, await imported(await unwrapped(former, '')));
  await take(newest.generation, secret);
}

/** That something does not open with this key; any other fault is none of the PIN. */
const isRefusal = (error: unknown): boolean =>
  typeof error === 'object' && error !== null && 'name' in error && error.name === 'OperationError';

/** A few slips of the finger cost nothing; from then on each costs twice as long as the one before. */
export function waitAfter(wrong: number): number {
  return wrong <= FREE_TRIES ? 0 : Math.min(MOST_WAIT_SECONDS, FIRST_WAIT_SECONDS * 2 ** (wrong - FREE_TRIES - 1));
}

/** How long no PIN is looked at; setting the clock back does not shorten it. */
export function secondsLeft({ waitUntil, wrongAt = 0 }: Pick<VaultRow, 'waitUntil' | 'wrongAt'>): number {
  if (waitUntil === undefined) return 0;
  const left = Date.now() < wrongAt ? waitUntil - wrongAt : waitUntil - Date.now();
  return Math.max(0, Math.ceil(left / 1000));
}

/** Choose a PIN, another one, or "" for none; what was sealed without one is to be sealed anew (resealing.ts). */
export async function choosePin(pin: string): Promise<void> {
  const newest = await kept();
  if (raw === null || newest === undefined) throw new Locked();
  fromOffice = false;
  if (newest.pinned || pin === '') {
    const wrapped = await wrappedBy(pin, raw);
    const fresh = { wrong: 0, waitUntil: undefined, rescue: undefined };
    await db.vault.update(newest.generation, { pinned: pin !== '', ...wrapped, ...fresh });
    tell();
  } else await makeVault(pin);
}

/** The generation of the key that seals now, and whether something may be sealed under a former one. */
export async function generations(): Promise<{ newest: number; hasFormer: boolean; isWhole: boolean }> {
  const all = await db.vault.orderBy('generation').toArray();
  const newest = all.at(-1);
  return { newest: newest?.generation ?? 0, hasFormer: all.length > 1, isWhole: newest?.whole === true };
}

/** Whether this page holds the newest key; another one may have chosen a PIN, and with it another key. */
export async function isCurrent(): Promise<boolean> {
  return keys.has((await kept())?.generation ?? 0);
}

/**
 * Refuse to keep what was sealed under a key that is none any more. Called within the transaction that keeps it, which
 * has to include the vault: so nothing is ever written that cannot be opened again.
 */
export async function checkSeal(generation: number): Promise<void> {
  if ((await kept())?.generation !== generation) throw new Locked();
}

/** The generation under which this page seals. */
export const sealsUnder = (): number => Math.max(0, ...keys.keys());

/** Everything is sealed under the newest key: the former ones are gone. */
export async function dropFormer(newest: number): Promise<void> {
  await db.vault.where('generation').below(newest).delete();
  for (const generation of keys.keys()) if (generation < newest) keys.delete(generation);
}

/** Let the office of a study open the vault too: wrap its key for the study’s public key (SubjectPublicKeyInfo). */
export async function wrapForStudy(studyKey: string): Promise<void> {
  const newest = await kept();
  if (raw === null || newest === undefined) throw new Locked();
  if (newest.studyKey === studyKey) return;
  const office = await crypto.subtle.importKey('spki', fromBase64(studyKey), OAEP, false, ['encrypt']);
  const forStudy = toBase64(await crypto.subtle.encrypt(OAEP, office, raw));
  await db.vault.update(newest.generation, { studyKey, forStudy });
}

/** By what the office knows this phone’s key again; it says nothing about it. */
export async function keyCheck(): Promise<string> {
  if (raw === null) throw new Locked();
  return hex(new Uint8Array(await crypto.subtle.digest('SHA-256', raw)));
}

/** A key in 16 hexadecimal digits: what the pairing picture carries, and what is read out. */
export async function fingerprintOf(publicKey: string): Promise<string> {
  return hex(new Uint8Array(await crypto.subtle.digest('SHA-256', fromBase64(publicKey)))).slice(0, 16);
}

/** The key itself (base64), for a phone that has no office to wrap it for yet. */
export function openKey(): string {
  if (raw === null) throw new Locked();
  return toBase64(raw);
}

/** Lock the vault; `keepSending` leaves what seals and unseals here until `forgetKeys`, so that what waits can go. */
export function lock(keepSending: boolean): void {
  raw = null;
  fromOffice = false;
  if (!keepSending) keys.clear();
  tell();
}

/** Nothing waits any more: a locked phone forgets what could open anything. */
export function forgetKeys(): void {
  if (raw === null) keys.clear();
}

/** Seal what is told as JSON. */
export async function sealJson(value: unknown): Promise<Bytes> {
  return seal(new TextEncoder().encode(JSON.stringify(value)));
}

export async function unsealJson<T>(sealed: Bytes): Promise<T> {
  return JSON.parse(new TextDecoder().decode(await unseal(sealed))) as T;
}

/** Seal a file piece by piece, so that one of any length can be read where it is needed. */
export async function sealFile(content: Blob): Promise<Blob> {
  const pieces: Bytes[] = [];
  for (let at = 0; at === 0 || at < content.size; at += PIECE_BYTES)
    pieces.push(await seal(new Uint8Array(await content.slice(at, at + PIECE_BYTES).arrayBuffer())));
  return new Blob(pieces);
}

/** The bytes of a sealed file from `from` on, up to the end of the piece that they lie in. */
export async function unsealPiece(sealed: Blob, from: number): Promise<Bytes> {
  const number = Math.floor(from / PIECE_BYTES);
  const piece = sealed.slice(number * SEALED_PIECE_BYTES, (number + 1) * SEALED_PIECE_BYTES);
  if (piece.size === 0) return new Uint8Array();
  const plain = await unseal(new Uint8Array(await piece.arrayBuffer()));
  return plain.slice(from - number * PIECE_BYTES);
}

/** A sealed file as it was. */
export async function unsealFile(sealed: Blob, type: string): Promise<Blob> {
  const pieces: Bytes[] = [];
  for (let number = 0; number * SEALED_PIECE_BYTES < sealed.size; number += 1)
    pieces.push(await unsealPiece(sealed, number * PIECE_BYTES));
  return new Blob(pieces, { type });
}

/** The generation of the key, then nonce and ciphertext. */
async function seal(plain: Bytes): Promise<Bytes> {
  const newest = sealsUnder();
  const by = keys.get(newest);
  if (by === undefined) throw new Locked();
  const sealed = await sealWith(by, plain);
  const whole = new Uint8Array(1 + sealed.length);
  whole[0] = newest;
  whole.set(sealed, 1);
  return whole;
}

async function unseal(sealed: Bytes): Promise<Bytes> {
  const by = keys.get(sealed[0] ?? 0);
  if (by === undefined) throw new Locked();
  return unsealWith(by, sealed.slice(1));
}

async function sealWith(by: CryptoKey, plain: Bytes): Promise<Bytes> {
  const iv = random(NONCE_BYTES);
  const locked = new Uint8Array(await crypto.subtle.encrypt({ name: 'AES-GCM', iv }, by, plain));
  const whole = new Uint8Array(NONCE_BYTES + locked.length);
  whole.set(iv);
  whole.set(locked, NONCE_BYTES);
  return whole;
}

async function unsealWith(by: CryptoKey, sealed: Bytes): Promise<Bytes> {
  const iv = sealed.slice(0, NONCE_BYTES);
  return new Uint8Array(await crypto.subtle.decrypt({ name: 'AES-GCM', iv }, by, sealed.slice(NONCE_BYTES)));
}

async function wrappedBy(pin: string, secret: Bytes): Promise<Pick<VaultRow, 'salt' | 'turns' | 'wrapped'>> {
  const salt = random(16);
  return { salt, turns: TURNS, wrapped: await sealWith(await keyOf(pin, salt, TURNS), secret) };
}

async function unwrapped(row: VaultRow, pin: string): Promise<Bytes> {
  return unsealWith(await keyOf(pin, row.salt, row.turns), row.wrapped);
}

async function keyOf(pin: string, salt: Bytes, iterations: number): Promise<CryptoKey> {
  const typed = await crypto.subtle.importKey('raw', new TextEncoder().encode(pin), 'PBKDF2', false, ['deriveKey']);
  const by = { name: 'PBKDF2', hash: 'SHA-256', salt, iterations };
  return crypto.subtle.deriveKey(by, typed, { name: 'AES-GCM', length: 256 }, false, ['encrypt', 'decrypt']);
}

async function take(generation: number, secret: Bytes): Promise<void> {
  keys.set(generation, await imported(secret));
  raw = secret;
  tell();
}

const imported = (secret: Bytes): Promise<CryptoKey> =>
  crypto.subtle.importKey('raw', secret, 'AES-GCM', false, ['encrypt', 'decrypt']);

/** What a phone whose PIN was forgotten sends to the office, and `told`, which its holder reads out to somebody there. */
export async function askOffice(): Promise<{ study_key: string; wrapped: string; public: string; told: string }> {
  const newest = await kept();
  if (newest?.studyKey === undefined || newest.forStudy === undefined) throw new Locked();
  const asked = newest.rescue ?? (await newRescue(newest.generation));
  return {
    study_key: await fingerprintOf(newest.studyKey),
    wrapped: newest.forStudy,
    public: asked.public,
    told: (await fingerprintOf(asked.public)).slice(0, 6),
  };
}

async function newRescue(generation: number): Promise<NonNullable<VaultRow['rescue']>> {
  const form = { ...OAEP, modulusLength: 2048, publicExponent: new Uint8Array([1, 0, 1]) };
  const pair = await crypto.subtle.generateKey(form, false, ['encrypt', 'decrypt']);
  const rescue = {
    privateKey: pair.privateKey,
    public: toBase64(await crypto.subtle.exportKey('spki', pair.publicKey)),
  };
  await db.vault.update(generation, { rescue });
  return rescue;
}

/** Open the vault with what the office answered; it counts as open once another PIN is chosen. */
export async function enterByOffice(answer: string): Promise<void> {
  const newest = await kept();
  if (newest?.rescue === undefined) throw new Locked();
  const secret = new Uint8Array(await crypto.subtle.decrypt(OAEP, newest.rescue.privateKey, fromBase64(answer)));
  fromOffice = true;
  await take(newest.generation, secret);
}

const OAEP = { name: 'RSA-OAEP', hash: 'SHA-256' } as const;
const random = (length: number): Bytes => crypto.getRandomValues(new Uint8Array(length));
const hex = (bytes: Bytes): string => [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join('');

export function toBase64(bytes: ArrayBuffer | Bytes): string {
  return btoa(String.fromCharCode(...new Uint8Array(bytes)));
}

export function fromBase64(text: string): Bytes {
  return Uint8Array.from(atob(text), (letter) => letter.charCodeAt(0));
}
