// All that the phone carries in one file, for when it cannot hand in: sealed as it lies here, so that it can be saved while
// the phone is locked and carried by anybody. The desk reads it in; the receipts come back under this phone's key.
import { Zip, ZipPassThrough } from 'fflate';
import { FORMATS } from '../../shared/api/contract';
import { db } from './db';
import { hashOf } from '../../shared/hash';
import { resealAll } from './resealing';
import { letGo } from './keeping';
import { headOf } from './kept';
import { fromBase64, generations, isOpen, openKey, unsealJson } from './vault';

type Bytes = Uint8Array<ArrayBuffer>;

export interface SavedBundle {
  content: Blob;
  name: string;
  interviews: number;
}

/** Every interview that is not handed in, with its files, as they are kept. */
export async function saveAll(): Promise<SavedBundle> {
  if (isOpen()) await resealAll();
  const { newest, hasFormer } = await generations();
  if (hasFormer) throw new Error('Not everything is under one key yet.');
  const device = await db.device.get('me').catch(() => undefined);
  const key = await db.vault.get(newest);
  const rows = await db.interviews.where('state').anyOf('in hand', 'packed').toArray();
  const hashes: Record<string, string> = {};
  // Piece by piece, which the browser may put on the disk: weeks of photos are more than a phone's memory.
  const pieces: Blob[] = [];
  const zip = new Zip((error, piece) => {
    if (error !== null) throw error;
    pieces.push(new Blob([piece]));
  });
  const put = (name: string, content: Bytes) => {
    const entry = new ZipPassThrough(name);
    zip.add(entry);
    entry.push(content, true);
  };
  const add = async (name: string, content: Blob) => {
    put(name, new Uint8Array(await content.arrayBuffer()));
    hashes[name] = await hashOf(content);
  };
  for (const row of rows) {
    await add(`interviews/${row.uuid}.sealed`, new Blob([row.content]));
    await add(`interviews/${row.uuid}.name`, new Blob([row.name]));
  }
  for (const key of await db.attachments.toCollection().primaryKeys()) {
    const file = await db.attachments.get(key);
    if (file !== undefined)
      await add(`files/${file.interview}/${file.kind.replace(/[^a-z]/g, '')}-${file.hash}.sealed`, file.sealed);
  }
  const index = {
    format: FORMATS.bundle,
    device: device?.device ?? 'phone',
    enumerator: device?.enumerator ?? '',
    made: new Date().toISOString(),
    study_key: device?.studyMark ?? '',
    key: key?.forStudy ?? '',
    open_key: key?.forStudy === undefined ? openKey() : '',
    generation: newest,
    interviews: Object.fromEntries(rows.map((row) => [row.uuid, headOf(row)])),
    entries: hashes,
  };
  put('bundle.json', new TextEncoder().encode(JSON.stringify(index)));
  zip.end();
  const day = new Date().toISOString().slice(0, 10);
  const name = `${index.device.replace(/[^\p{L}\p{N}]+/gu, '-')}-${day}.skavo.zip`;
  return { content: new Blob(pieces, { type: 'application/zip' }), name, interviews: rows.length };
}

interface Receipts {
  receipts: { uuid: string; hash: string; number: number }[];
}

/** Why a file of receipts is not believed: it is none, or it was made for another phone or by nobody at the office. */
export class NoReceipts extends Error {}

/** Read receipts that were carried back: what they are for leaves the phone. Returns how many interviews that were. */
export async function readReceipts(file: Blob): Promise<number> {
  const { receipts } = await opened(file);
  const before = await db.interviews.where('state').equals('packed').count();
  for (const { uuid, hash, number } of receipts) await letGo({ uuid, hash }, number);
  return before - (await db.interviews.where('state').equals('packed').count());
}

async function opened(file: Blob): Promise<Receipts> {
  try {
    const { format, sealed } = JSON.parse(await file.text()) as { format: string; sealed: string };
    if (format !== FORMATS.receipts) throw new NoReceipts();
    return await unsealJson<Receipts>(fromBase64(sealed));
  } catch {
    throw new NoReceipts();
  }
}
