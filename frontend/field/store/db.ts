// What the phone keeps, in IndexedDB. Versions are only ever added.
import Dexie, { type EntityTable } from 'dexie';
import type { Json } from '../../shared/engine/types';

export interface DeviceRow {
  id: 'me';
  token: string;
  device: string;
  enumerator: string;
  study: string;
  pairedAt: string;
  heardAt: string;
}

export interface ReleaseRow {
  hash: string;
  number: number;
  questionnaireId: number;
  title: Record<string, string>;
  languages: string[];
  compiled: string;
  newest: 0 | 1;
}

export type InterviewState = 'in hand' | 'packed' | 'handed in';

export interface ParadataEvent {
  kind: 'seen' | 'answered' | 'left' | 'resumed' | 'language';
  path?: string;
  at: string;
}

/** An interview on the device; once handed in, only what proves that it arrived is left of it. */
export interface InterviewRow {
  uuid: string;
  state: InterviewState;
  release: string;
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
  raw?: string;
  hash?: string;
  problem?: string;
  number?: number;
}

/** A photo, a recording or another file of an interview, named by the hash of its content. */
export interface FileRow {
  hash: string;
  interview: string;
  content: Blob;
}

class FieldDatabase extends Dexie {
  device!: EntityTable<DeviceRow, 'id'>;
  releases!: EntityTable<ReleaseRow, 'hash'>;
  interviews!: EntityTable<InterviewRow, 'uuid'>;
  files!: EntityTable<FileRow, 'hash'>;

  constructor() {
    super('skavo-field');
    this.version(1).stores({ device: 'id', releases: 'hash, newest', interviews: 'uuid, state, changedAt' });
    this.version(2).stores({ files: 'hash, interview' });
  }
}

export const db = new FieldDatabase();

/** Ask the browser not to clear this storage by itself when space runs short. */
export function keepStorage(): void {
  if ('storage' in navigator && 'persist' in navigator.storage) void navigator.storage.persist();
}
