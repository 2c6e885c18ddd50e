// Interviews that the office sent back: fetched to this phone, with the remarks, to be corrected and handed in again.
import type { Schemas } from '../../shared/api/client';
import { inLanguage } from '../../shared/interview/languages';
import type { Json } from '../../shared/engine/types';
import { db, type Correction, type Interview, type ParadataEvent, type PlaceNoted } from './db';
import { addInterview, changeInterview, readInterview } from './kept';
import * as server from './server';
import { fetchRelease } from './releases';

/** Take back what was sent back and is not being corrected here already; one that cannot be fetched stops no other. */
export async function takeBack(token: string, sentBack: Schemas['SentBack'][]): Promise<void> {
  for (const sent of sentBack) {
    const row = await readInterview(sent.uuid);
    const underWay = row !== undefined && row.state !== 'handed in';
    if (underWay) await tellRemarks(row, sent);
    else
      await fetchOne(token, sent, row).catch((error: unknown) => {
        if (server.isUnreachable(error)) throw error;
      });
  }
}

const correctionOf = (sent: Schemas['SentBack']): Correction => ({
  basis: sent.hash,
  by: sent.by,
  at: sent.at,
  remarks: sent.remarks.map(({ path, text }) => ({ path, text })),
});

/** Remarks may be added while the interview is in hand; what it corrects stays. */
async function tellRemarks({ uuid }: Interview, sent: Schemas['SentBack']): Promise<void> {
  await changeInterview(uuid, (row) =>
    row.state !== 'in hand' || row.correction?.basis !== sent.hash || row.correction.at === sent.at
      ? null
      : { ...row, correction: correctionOf(sent) },
  );
}

/** The visit it was made on, and what it knew before it began; documents of earlier builds say neither. */
function visitedOn({ visit, known }: Partial<Schemas['InterviewDocument']>): Pick<Interview, 'visited'> {
  if (known === undefined || ((visit ?? '') === '' && known.unit === null)) return {};
  return { visited: { visit: visit ?? '', known: { units: {}, earlier: {}, ...known } } };
}

async function fetchOne(token: string, sent: Schemas['SentBack'], known: Interview | undefined): Promise<void> {
  const document = JSON.parse(await server.fetchInterview(token, sent.uuid)) as Schemas['InterviewDocument'];
  const held = (await db.releases.toArray()).find((release) => release.identity === sent.release);
  const release = held?.hash ?? (await fetchRelease(token, sent.release));
  const title = (await db.releases.get(release))?.title ?? {};
  const { paradata } = document;
  const back: Interview = {
    uuid: sent.uuid,
    state: 'in hand',
    release,
    releaseIdentity: sent.release,
    title: inLanguage(title, document.language),
    label: known?.label ?? '',
    labelPath: '',
    stoppedAt: '',
    open: 0,
    startedAt: typeof paradata.started === 'string' ? paradata.started : sent.at,
    changedAt: new Date().toISOString(),
    practice: document.practice ? 1 : 0,
    path: sent.remarks.find((remark) => remark.path !== '')?.path ?? null,
    answers: document.answers as Record<string, Json>,
    kept: document.kept ?? {},
    language: document.language,
    remarks: document.remarks ?? {},
    events: paradata.events as unknown as ParadataEvent[],
    ...(paradata.place == null ? {} : { place: paradata.place as unknown as PlaceNoted }),
    ...visitedOn(document),
    correction: correctionOf(sent),
    number: sent.number,
  };
  if (known === undefined) await addInterview(back);
  else await changeInterview(sent.uuid, (row) => (row.state === 'handed in' ? back : null));
}
