// Starting, keeping and packing interviews on the phone.
import { theEngine } from '../../shared/engine/client';
import type { Screen } from '../../shared/engine/types';
import { inLanguage } from '../../shared/interview/languages';
import { db, type InterviewRow, type ParadataEvent, type ReleaseRow } from './db';

const INTERVIEW_FORMAT = 'skavo-interview-1';

/** A new interview, in hand. */
export async function startInterview(release: ReleaseRow, practice: boolean): Promise<string> {
  const at = momentHere();
  const language = release.languages[0] ?? 'en';
  const uuid = crypto.randomUUID();
  await db.interviews.add({
    uuid,
    state: 'in hand',
    release: release.hash,
    title: inLanguage(release.title, language),
    label: '',
    labelPath: '',
    stoppedAt: '',
    open: 0,
    startedAt: at,
    changedAt: at,
    practice: practice ? 1 : 0,
    path: null,
    answers: {},
    kept: {},
    language,
    events: [],
  });
  return uuid;
}

/** Open an interview in the engine; returns the paths of its screens. */
export async function openInterview(interview: InterviewRow, release: ReleaseRow): Promise<string[]> {
  const device = await db.device.get('me');
  const engine = theEngine();
  await engine.call('loadRelease', release.hash, release.compiled);
  return engine.call(
    'open',
    interview.uuid,
    release.hash,
    { answers: interview.answers, kept: interview.kept, language: interview.language },
    { now: momentHere(), 'interview.started': interview.startedAt, 'interview.seed': interview.uuid, 'enumerator.name': device?.enumerator ?? '' },
  );
}

/** Write down everything of an open interview; called after each answer. */
export async function keepInterview(uuid: string, screen: Screen | null, event: ParadataEvent | null): Promise<void> {
  const saved = await theEngine().call('saved', uuid);
  const now = new Date().toISOString();
  await db.interviews
    .where('uuid')
    .equals(uuid)
    .modify((row: InterviewRow) => {
      row.answers = saved.answers;
      row.kept = saved.kept;
      row.language = saved.language;
      row.changedAt = now;
      if (screen) {
        row.path = screen.path;
        row.stoppedAt = screen.around.map((a) => a.title).filter((t) => t !== '')[0] ?? '';
        row.open = Math.max(0, screen.of - screen.place - 1);
        if (screen.kind === 'text' && typeof screen.value === 'string' && (row.labelPath === '' || row.labelPath === screen.path)) {
          row.label = screen.value;
          row.labelPath = screen.path;
        }
      }
      if (event) row.events.push(event);
    });
}

/** Seal an interview: what is handed in, word for word, and its hash. `unfinished` says why, where it has to be. */
export async function packInterview(uuid: string, unfinished: string): Promise<void> {
  const row = await db.interviews.get(uuid);
  const device = await db.device.get('me');
  if (!row || !device) throw new Error('This interview is no longer on the phone.');
  const packed = await theEngine().call('packed', uuid);
  const document = {
    format: INTERVIEW_FORMAT,
    uuid,
    release: row.release,
    answers: packed.answers,
    derived: packed.derived,
    kept: packed.kept,
    language: packed.language,
    practice: row.practice === 1,
    unfinished,
    paradata: {
      started: row.startedAt,
      ended: momentHere(),
      device: device.device,
      enumerator: device.enumerator,
      events: row.events,
    },
  };
  const raw = JSON.stringify(document);
  await db.interviews.update(uuid, { state: 'packed', raw, hash: await hashOf(raw), changedAt: new Date().toISOString() });
}

async function hashOf(text: string): Promise<string> {
  const digest = await crypto.subtle.digest('SHA-256', new TextEncoder().encode(text));
  return [...new Uint8Array(digest)].map((byte) => byte.toString(16).padStart(2, '0')).join('');
}

/** The present moment with the phone's own offset, so that `today` is the enumerator's day. */
export function momentHere(): string {
  const now = new Date();
  const minutes = -now.getTimezoneOffset();
  const two = (n: number) => String(Math.floor(Math.abs(n))).padStart(2, '0');
  const local = new Date(now.getTime() + minutes * 60_000).toISOString().slice(0, 19);
  return `${local}${minutes < 0 ? '-' : '+'}${two(minutes / 60)}:${two(minutes % 60)}`;
}
