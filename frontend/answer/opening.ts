// Opening what is answered in the engine: begun now, or taken up where it was left.
import { theEngine } from '../shared/engine/client';
import { holdInterview } from '../shared/interview/alone';
import { learnWords } from '../shared/interview/texts';
import { showSection, type Shown } from '../shared/interview/useSections';
import { begin, fetchRelease, type LinkPage, type ReleaseFile } from './server';
import { keepAnswers, type AnswersRow } from './store';

export interface Opened {
  row: AnswersRow;
  release: ReleaseFile;
  first: Shown;
  /** Lets another tab open it. */
  letGo: () => void;
}

/** Another tab of this browser has it open. */
export class OpenElsewhere extends Error {}

export async function open(
  secret: string,
  link: LinkPage,
  known: AnswersRow | null,
  language: string,
): Promise<Opened> {
  const release = await fetchRelease(secret, known?.release ?? link.release ?? '');
  const row = known ?? newRow(secret, release, language);
  const letGo = await holdInterview(row.uuid);
  if (letGo === null) throw new OpenElsewhere();
  try {
    return { row, release, first: await firstSection(row, release, link, known === null), letGo };
  } catch (error) {
    letGo();
    throw error;
  }
}

async function firstSection(row: AnswersRow, release: ReleaseFile, link: LinkPage, isNew: boolean): Promise<Shown> {
  if (isNew) await begin(row.secret, row.uuid);
  await keepAnswers(row);
  const engine = theEngine();
  learnWords(release.compiled.words ?? {});
  await engine.call('loadRelease', release.hash, JSON.stringify(release.compiled));
  const way = await engine.call(
    'open',
    row.uuid,
    release.hash,
    { answers: row.answers, kept: row.kept, language: row.language },
    {
      now: new Date().toISOString(),
      'interview.started': row.startedAt,
      'interview.seed': row.uuid,
      'enumerator.name': link.enumerator,
    },
  );
  const path = row.path !== null && way.includes(row.path) ? row.path : (way[0] ?? '');
  return showSection(row.uuid, path, true);
}

function newRow(secret: string, release: ReleaseFile, language: string): AnswersRow {
  const at = new Date().toISOString();
  return {
    secret,
    uuid: crypto.randomUUID(),
    release: release.identity,
    hash: release.hash,
    startedAt: at,
    changedAt: at,
    language,
    path: null,
    answers: {},
    kept: {},
    events: [],
  };
}
