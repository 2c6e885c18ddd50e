// Handing in what was answered: files first, then the answers; only once the office has confirmed both does the browser
// let them go.
import { FORMATS } from '../shared/api/contract';
import { Problem, type Schemas } from '../shared/api/client';
import { hashOf } from '../shared/hash';
import { theEngine } from '../shared/engine/client';
import { sendAnswers, sendFile } from './server';
import { filesOf, forgetAnswers, readAnswers } from './store';

/** Send the answers of a link, and leave that they were sent; `unfinished` says why some are missing. */
export async function send(secret: string, uuid: string, enumerator: string, unfinished: string): Promise<void> {
  const row = await readAnswers(secret);
  if (row?.uuid !== uuid) throw new Error('These answers are no longer in this browser.');
  const packed = await theEngine().call('packed', uuid);
  const document: Schemas['InterviewDocument'] = {
    format: FORMATS.interview,
    uuid,
    release: row.release,
    release_hash: row.hash,
    basis: '',
    answers: packed.answers,
    derived: packed.derived,
    kept: packed.kept,
    language: packed.language,
    remarks: {},
    practice: false,
    unfinished,
    visit: '',
    known: { unit: null, units: {}, earlier: {} },
    about: null,
    paradata: {
      started: row.startedAt,
      // What is sent a second time is the same to the byte.
      ended: row.changedAt,
      device: '',
      enumerator,
      events: row.events,
      place: null,
      paper: null,
      exercise: null,
      clock_ahead_seconds: null,
    },
  };
  const raw = JSON.stringify(document);
  for (const file of await filesOf(uuid)) if (raw.includes(file.hash)) await sendFile(secret, file);
  const receipt = await sendAnswers(secret, uuid, raw);
  if (receipt.hash !== (await hashOf(raw))) throw new Problem('wrong_receipt', '', 0);
  await forgetAnswers(row, true);
  await theEngine().call('close', uuid);
}
