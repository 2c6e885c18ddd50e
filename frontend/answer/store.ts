// What somebody answers through a link, kept in their browser until the office has confirmed it.
import Dexie, { type EntityTable, type Table } from 'dexie';
import { referenceTo } from '../shared/interview/answers/Files';
import type { FileReference } from '../shared/interview/answers/props';
import type { Json, Unsaved } from '../shared/engine/types';

/** One row for each link: what is being answered, or that it has been. */
export interface AnswersRow {
  secret: string;
  uuid: string;
  /** The release it was begun with, by identity and by the hash of its content. */
  release: string;
  hash: string;
  startedAt: string;
  changedAt: string;
  sentAt?: string;
  language: string;
  path: string | null;
  answers: Record<string, Json>;
  kept: Record<string, string>;
  events: { kind: 'answered' | 'resumed'; path: string; at: string }[];
}

interface FileRow {
  uuid: string;
  hash: string;
  kind: string;
  content: Blob;
}

class AnswersDatabase extends Dexie {
  answers!: EntityTable<AnswersRow, 'secret'>;
  files!: Table<FileRow, [uuid: string, hash: string]>;

  constructor() {
    super('skavo-answers');
    this.version(1).stores({ answers: 'secret', files: '[uuid+hash], uuid' });
  }
}

const db = new AnswersDatabase();

export const readAnswers = (secret: string) => db.answers.get(secret);
export const keepAnswers = (row: AnswersRow) => db.answers.put(row);

/** Write down what changed; an interview that was forgotten or sent meanwhile, in another tab, is left alone. */
export async function keepChanges(secret: string, uuid: string, changes: Unsaved, path: string): Promise<void> {
  await db.transaction('rw', db.answers, async () => {
    const row = await db.answers.get(secret);
    if (row?.uuid !== uuid || row.sentAt !== undefined) throw new Error('These answers are no longer in this browser.');
    const at = new Date().toISOString();
    for (const [answered, value] of Object.entries(changes.answers)) {
      if (value === null) Reflect.deleteProperty(row.answers, answered);
      else row.answers[answered] = value;
      row.events.push({ kind: 'answered', path: answered, at });
    }
    await db.answers.put({ ...row, kept: changes.kept, language: changes.language, path, changedAt: at });
  });
}

/** Let go of what was answered; `sent` leaves that it was. */
export async function forgetAnswers(row: AnswersRow, sent: boolean): Promise<void> {
  await db.transaction('rw', db.answers, db.files, async () => {
    await db.files.where('uuid').equals(row.uuid).delete();
    if (sent) await db.answers.put({ ...row, answers: {}, kept: {}, events: [], sentAt: new Date().toISOString() });
    else await db.answers.delete(row.secret);
  });
}

/** Keep a file; the answer is its reference. */
export async function keepFile(uuid: string, content: Blob, name: string, kind: string): Promise<FileReference> {
  const reference = await referenceTo(content, name);
  await db.files.put({ uuid, hash: reference.file, kind, content });
  return reference;
}

export const readFile = async (uuid: string, hash: string): Promise<Blob | null> =>
  (await db.files.get([uuid, hash]))?.content ?? null;

export const filesOf = (uuid: string) => db.files.where('uuid').equals(uuid).toArray();
