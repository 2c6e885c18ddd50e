// What stays on the phone of an interview that has arrived, and for how long: as the profile says.
import { db, type Interview } from './db';
import { changeInterview } from './kept';
import { settingsHere } from './settings';

const DAY_MS = 24 * 3_600_000;

/** Let an interview go whose arrival the office has confirmed, byte for byte; one packed anew meanwhile stays. */
export async function letGo(confirmed: { uuid: string; hash?: string }, number: number): Promise<void> {
  const { keeps, keeps_days: days } = await settingsHere();
  const { uuid, hash } = confirmed;
  const keepsAll = keeps === 'all' && days > 0;
  await changeInterview(
    uuid,
    (now) => (now.hash !== hash || now.state !== 'packed' ? null : arrived(now, number, keepsAll)),
    async () => {
      if (!keepsAll) await db.attachments.where('interview').equals(uuid).delete();
    },
  );
}

function arrived(interview: Interview, number: number, keepsAll: boolean): Interview {
  const head: Interview = {
    ...interview,
    state: 'handed in',
    number,
    changedAt: new Date().toISOString(),
    correction: undefined,
    raw: undefined,
    problem: undefined,
  };
  // What changed a unit is read until the office tells what came of it.
  return keepsAll || interview.about !== undefined
    ? head
    : {
        ...head,
        answers: {},
        kept: {},
        events: [],
        remarks: undefined,
        label: '',
        labelPath: '',
        stoppedAt: '',
        place: undefined,
      };
}

/** Forget what has stayed as long as the profile says; how many there were, the office knows. */
export async function forgetOld(): Promise<void> {
  const { keeps, keeps_days: days } = await settingsHere();
  const until = new Date(Date.now() - (keeps === 'nothing' ? 0 : days * DAY_MS)).toISOString();
  const old = await db.interviews
    .where('state')
    .equals('handed in')
    .filter((row) => row.changedAt < until)
    .primaryKeys();
  await db.transaction('rw', db.interviews, db.attachments, async () => {
    await db.attachments.where('interview').anyOf(old).delete();
    await db.interviews.bulkDelete(old);
  });
}
