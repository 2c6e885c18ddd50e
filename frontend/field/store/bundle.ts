// All that the phone carries in one file, for when it cannot hand in: the desk reads it in.
import { zipSync, type Zippable } from 'fflate';
import { FORMATS } from '../../shared/api/contract';
import { theEngine } from '../../shared/engine/client';
import { db, type DeviceRow, type InterviewRow } from './db';
import { notedBy } from './noted';
import { documentOf, hashOf, openInterview, type PackedAnswers } from './interviews';

export interface SavedBundle {
  content: Blob;
  name: string;
  interviews: number;
}

const NOBODY: DeviceRow = {
  id: 'me',
  token: '',
  device: 'phone',
  enumerator: '',
  study: '',
  pairedAt: '',
  heardAt: '',
};

async function unpacked(row: InterviewRow, device: DeviceRow) {
  const noted = notedBy(await db.releases.get(row.release).catch(() => undefined));
  return documentOf(row, device, await answersOf(row), 'Saved to a file before it was packed', noted);
}

/** Every interview that is not handed in, with its files; what is in hand goes as it stands. */
export async function saveAll(): Promise<SavedBundle> {
  const device = (await db.device.get('me').catch(() => undefined)) ?? NOBODY;
  const rows = await db.interviews.where('state').anyOf('in hand', 'packed').toArray();
  const entries: Zippable = {};
  const hashes: Record<string, string> = {};
  const add = async (name: string, content: Blob) => {
    entries[name] = [new Uint8Array(await content.arrayBuffer()), { level: name.startsWith('files/') ? 0 : 6 }];
    hashes[name] = await hashOf(content);
  };
  for (const row of rows) {
    const raw = row.raw ?? JSON.stringify(await unpacked(row, device));
    await add(`interviews/${row.uuid}.json`, new Blob([raw]));
  }
  for (const file of await db.attachments.toArray())
    await add(`files/${file.interview}/${file.kind.replace(/[^a-z]/g, '')}-${file.hash}`, file.content);
  const index = {
    format: FORMATS.bundle,
    device: device.device,
    enumerator: device.enumerator,
    made: new Date().toISOString(),
    entries: hashes,
  };
  entries['bundle.json'] = new TextEncoder().encode(JSON.stringify(index));
  const day = new Date().toISOString().slice(0, 10);
  const name = `${(device.device || 'phone').replace(/[^\p{L}\p{N}]+/gu, '-')}-${day}.skavo.zip`;
  return { content: new Blob([zipSync(entries)], { type: 'application/zip' }), name, interviews: rows.length };
}

/** What would be packed now; where the engine cannot say, everything that was answered. */
async function answersOf(row: InterviewRow): Promise<PackedAnswers> {
  try {
    const release = await db.releases.get(row.release);
    if (!release) throw new Error('The release is gone.');
    await openInterview(row, release);
    return await theEngine().call('packed', row.uuid);
  } catch {
    return { answers: row.answers, derived: {}, kept: row.kept, language: row.language };
  }
}

/** Offer a bundle as a file to be kept. */
export function offer({ content, name }: SavedBundle): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(content);
  link.download = name;
  link.click();
  window.setTimeout(() => {
    URL.revokeObjectURL(link.href);
  }, 60_000);
}
