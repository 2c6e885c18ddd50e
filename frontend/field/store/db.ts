// What the phone keeps, in IndexedDB. Versions are only ever added; rows of earlier ones are brought forward.
import Dexie, { type EntityTable, type Table } from 'dexie';
import type { Json } from '../../shared/engine/types';

export interface DeviceRow {
  id: 'me';
  token: string;
  device: string;
  enumerator: string;
  study: string;
  pairedAt: string;
  heardAt: string;
  /** How many seconds this phone's clock is ahead of the office's, when it was last heard; behind is negative. */
  clockAheadSeconds?: number;
}

/** A release by the hash of its content; `identity` is that of the newest release with this content. */
export interface ReleaseRow {
  hash: string;
  identity?: string;
  number: number;
  questionnaireId: number;
  title: Record<string, string>;
  languages: string[];
  compiled: string;
  newest: 0 | 1;
  /** Only to practise with: no interview of it counts. */
  practice?: 0 | 1;
  /** The hashes of the pictures, sounds and films that it shows. */
  media?: string[];
}

export type InterviewState = 'in hand' | 'packed' | 'handed in';

export interface ParadataEvent {
  kind: 'seen' | 'answered' | 'left' | 'resumed' | 'language';
  path?: string;
  at: string;
}

/** Where an interview began, in degrees and metres, or why that is not known. */
export type PlaceNoted = { latitude: number; longitude: number; accuracy: number } | { problem: string };

/** What somebody at the office wrote; `path` names the question, "" the whole interview. */
export interface Remark {
  path: string;
  text: string;
}

/** The revision that an interview corrects: its hash, and who sent it back with which remarks. */
export interface Correction {
  basis: string;
  by: string;
  at: string;
  remarks: Remark[];
}

/** An interview on the device; once handed in, only what proves that it arrived is left of it. */
export interface InterviewRow {
  uuid: string;
  state: InterviewState;
  release: string;
  releaseIdentity?: string;
  title: string;
  /** What it is called in lists: the first text that was answered, and where. */
  label: string;
  labelPath: string;
  stoppedAt: string;
  open: number;
  startedAt: string;
  changedAt: string;
  practice: 0 | 1;
  path: string | null;
  answers: Record<string, Json>;
  kept: Record<string, string>;
  language: string;
  events: ParadataEvent[];
  place?: PlaceNoted;
  correction?: Correction;
  raw?: string;
  hash?: string;
  problem?: string;
  number?: number;
}

/** A photo, a recording or another file of one interview, named by the hash of its content. */
export interface AttachmentRow {
  interview: string;
  hash: string;
  kind: string;
  content: Blob;
  /** The office has confirmed the hash of what is on its disk. */
  confirmed: 0 | 1;
}

/** A picture, a sound or a film that releases show, by the hash of its content. */
export interface MediaRow {
  hash: string;
  content: Blob;
}

interface FormerFileRow {
  hash: string;
  interview: string;
  content: Blob;
}

class FieldDatabase extends Dexie {
  device!: EntityTable<DeviceRow, 'id'>;
  releases!: EntityTable<ReleaseRow, 'hash'>;
  interviews!: EntityTable<InterviewRow, 'uuid'>;
  media!: EntityTable<MediaRow, 'hash'>;
  attachments!: Table<AttachmentRow, [interview: string, hash: string]>;

  constructor() {
    super('skavo-field');
    this.version(1).stores({ device: 'id', releases: 'hash, newest', interviews: 'uuid, state, changedAt' });
    this.version(2).stores({ files: 'hash, interview' });
    // The same file may belong to two interviews.
    this.version(3)
      .stores({ attachments: '[interview+hash], interview' })
      .upgrade(async (tx) => {
        const former = await tx.table<FormerFileRow>('files').toArray();
        await tx
          .table<AttachmentRow>('attachments')
          .bulkPut(former.map((file) => ({ ...file, kind: 'file', confirmed: 0 })));
      });
    this.version(4).stores({ files: null });
    this.version(5).stores({ media: 'hash' });
  }
}

export const db = new FieldDatabase();

/** Ask the browser not to clear this storage by itself when space runs short. */
export function keepStorage(): void {
  if ('storage' in navigator && 'persist' in navigator.storage) void navigator.storage.persist();
}
