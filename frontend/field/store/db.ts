// What the phone keeps, in IndexedDB. Versions are only ever added; rows of earlier ones are brought forward.
import Dexie, { type EntityTable, type Table } from 'dexie';
import type { Schemas } from '../../shared/api/client';
import type { Exercise, Json } from '../../shared/engine/types';

type Bytes = Uint8Array<ArrayBuffer>;

/** What this phone is; `token` is sealed as soon as there is a vault, and stands open only until then. */
export interface DeviceRow {
  id: 'me';
  token?: string;
  sealedToken?: Bytes;
  device: string;
  enumerator: string;
  study: string;
  pairedAt: string;
  heardAt: string;
  /** The fingerprint of the study's key that the pairing picture carried; none where the code was typed. */
  keyMark?: string;
  /** What the office has set for this phone; none until it has been heard for the first time. */
  settings?: Settings;
  /** The study's public key, for which the vault's is wrapped. */
  studyKey?: string;
  /** The fingerprint of that key. */
  studyMark?: string;
  /** Interviews that this person left at the office, to go on with. */
  left?: Schemas['LeftOut'][];
  /** What this person has at the office, from all their phones. */
  tally?: Tally;
  /** What holds for the visits here, and what tells that they are those of the office. */
  visits?: VisitsFrame;
  /** What holds for the units here, and what tells that they are those of the office. */
  units?: UnitsFrame;
  /** The round that the day of the last contact belonged to. */
  round?: Schemas['Round'] | null;
  /** How many seconds this phone's clock is ahead of the office's, when it was last heard; behind is negative. */
  clockAheadSeconds?: number;
}

export type Settings = Schemas['FieldProfile'];
export type Tally = Schemas['TallyOut'];

/** What holds for visits besides each of them. */
export type VisitsFrame = Pick<Schemas['CarriedVisits'], 'time_zone' | 'outcomes' | 'lists'> & { mark: string };

/** What holds for units besides each of them: their kinds, and changes of this person that wait at the office. */
export type UnitsFrame = Pick<Schemas['CarriedUnits'], 'mark' | 'kinds' | 'waiting'>;

/** Some units of the register, sealed together; `mark` tells whether they are those of the office. */
export interface UnitPieceRow {
  piece: string;
  mark: string;
  sealed: Bytes;
}

/** A visit of this person, sealed. */
export interface VisitRow {
  visit: string;
  sealed: Bytes;
}

/** An attempt at a visit, sealed; `sent` once the office has it. */
export interface AttemptRow {
  identity: string;
  sent: 0 | 1;
  sealed: Bytes;
  problem?: string;
}

/** A key of the vault (vault.ts), wrapped by the PIN and for the study; the newest generation seals. */
export interface VaultRow {
  generation: number;
  pinned: boolean;
  /** Everything here is sealed under this key. */
  whole?: boolean;
  salt: Bytes;
  turns: number;
  wrapped: Bytes;
  /** How many PINs in a row were wrong, when the last one was, and until when none is looked at (milliseconds). */
  wrong: number;
  wrongAt?: number;
  waitUntil?: number;
  studyKey?: string;
  forStudy?: string;
  /** The key pair with which the office is asked to let somebody in. */
  rescue?: { privateKey: CryptoKey; public: string };
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
  /** Test interviews to practise with, and what tells them apart from others. */
  exercises?: { mark: string; all: Exercise[] };
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

/** What of an interview anyone who holds the phone may know. */
export interface InterviewHead {
  uuid: string;
  state: InterviewState;
  release: string;
  releaseIdentity?: string;
  title: string;
  open: number;
  startedAt: string;
  changedAt: string;
  practice: 0 | 1;
  /** The exercise that it is led after. */
  exercise?: string;
  /** It changes a unit of the register, and is no interview. */
  unit?: 1;
  language: string;
  hash?: string;
  problem?: string;
  number?: number;
}

/** What it is called in lists: the first text that was answered, and where; and by whom it was sent back. */
export interface InterviewName {
  label: string;
  labelPath: string;
  stoppedAt: string;
  correction?: Correction;
  /** The visit that it was begun on. */
  visited?: VisitedOn;
  /** The unit that it changes. */
  about?: AboutUnit;
}

/** The unit that is changed or made; `told` once the office has told back what came of it. */
export type AboutUnit = Required<Schemas['UnitTold']> & { kind: number; told?: boolean };

/** What an interview knows of whom it is about before it begins: the unit, what rules ask of it, the earlier round. */
export type KnownBefore = Schemas['Known'];

/** The visit that an interview was begun on. */
export interface VisitedOn {
  visit: string;
  known: KnownBefore;
}

/** What was answered, and everything that was noted on the way; `raw` is what is handed in, word for word. */
export interface InterviewContent {
  path: string | null;
  answers: Record<string, Json>;
  kept: Record<string, string>;
  events: ParadataEvent[];
  /** What the enumerator remarked, by path. */
  remarks?: Record<string, string>;
  place?: PlaceNoted;
  raw?: string;
}

export type Interview = InterviewHead & InterviewName & InterviewContent;
export type InterviewListed = InterviewHead & InterviewName;

/** As it is kept: name and content sealed; `turn` rises with every change, so that two writers cannot overwrite. */
export interface InterviewRow extends InterviewHead {
  turn: number;
  name: Bytes;
  content: Bytes;
}

/** A photo, a recording or another file of one interview, named by the hash of its content. */
export interface AttachmentRow {
  interview: string;
  hash: string;
  kind: string;
  /** Its length before it was sealed, and its type. */
  bytes: number;
  type: string;
  sealed: Blob;
  /** The office has confirmed the hash of what is on its disk. */
  confirmed: 0 | 1;
}

/** A map sheet that this phone is to hold; `whole` once all pieces are here. */
export interface SheetRow {
  hash: string;
  line: Schemas['SheetLine'];
  whole: 0 | 1;
}

/** A piece of a map sheet; `at` counts pieces of one size. */
export interface SheetPiece {
  hash: string;
  at: number;
  content: ArrayBuffer;
}

/** A file of a colleague's phone that is taken along, sealed by that one; `told` once it has arrived. */
export interface CarriedRow {
  /** What it is called on its way: random. */
  name: string;
  /** What the file was called. */
  called: string;
  bytes: number;
  content: Blob;
  takenAt: string;
  problem?: string;
  told?: Schemas['BundleOut'];
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
  vault!: EntityTable<VaultRow, 'generation'>;
  device!: EntityTable<DeviceRow, 'id'>;
  releases!: EntityTable<ReleaseRow, 'hash'>;
  interviews!: EntityTable<InterviewRow, 'uuid'>;
  media!: EntityTable<MediaRow, 'hash'>;
  carried!: EntityTable<CarriedRow, 'name'>;
  sheets!: EntityTable<SheetRow, 'hash'>;
  sheetPieces!: Table<SheetPiece, [hash: string, at: number]>;
  visits!: EntityTable<VisitRow, 'visit'>;
  attempts!: EntityTable<AttemptRow, 'identity'>;
  units!: EntityTable<UnitPieceRow, 'piece'>;
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
          .table<FormerFileRow & { kind: string; confirmed: 0 }>('attachments')
          .bulkPut(former.map((file) => ({ ...file, kind: 'file', confirmed: 0 })));
      });
    this.version(4).stores({ files: null });
    this.version(5).stores({ media: 'hash' });
    // What earlier builds kept in the open is sealed once there is a key (resealing.ts).
    this.version(6).stores({ vault: 'generation' });
    this.version(7).stores({ carried: 'name, takenAt', sheets: 'hash', sheetPieces: '[hash+at], hash' });
    this.version(8).stores({ visits: 'visit', attempts: 'identity, sent' });
    this.version(9).stores({ units: 'piece' });
  }
}

export const db = new FieldDatabase();

/** Ask the browser not to clear this storage by itself when space runs short. */
export function keepStorage(): void {
  if ('storage' in navigator && 'persist' in navigator.storage) void navigator.storage.persist();
}
