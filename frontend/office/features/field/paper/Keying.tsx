// Keying papers of a batch, one after the other, without a mouse.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Alert } from 'antd';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import type { Schemas } from '../../../../shared/api/client';
import { theEngine } from '../../../../shared/engine/client';
import { learnWords } from '../../../../shared/interview/texts';
import { showSection, type Shown } from '../../../../shared/interview/useSections';
import { t } from '../../../texts/texts';
import { Loaded } from '../../../ui/states';
import { useStudy } from '../../../ui/study';
import { OnePaper, SESSION } from './OnePaper';
import { fetchRelease, useBatches, type Batch, type BatchRelease, type Paper } from './paper';
import { TakePaper } from './TakePaper';
import './paper.css';

type Keyed = Schemas['KeyedOut'];

export default function Keying() {
  const study = useStudy();
  const batchId = Number(useParams().batchId);
  const batches = useBatches(study.id);
  const release = useQuery({
    queryKey: ['batch release', batchId],
    queryFn: () => fetchRelease(batchId),
    staleTime: Infinity,
  });
  const batch = batches.data?.find((one) => one.id === batchId);
  return (
    <div className="page">
      <Loaded query={release}>
        {(found) => (batch === undefined ? null : <Papers batch={batch} release={found} studyId={study.id} />)}
      </Loaded>
    </div>
  );
}

/** What was keyed last, and the next paper to take. */
function Papers({ batch, release, studyId }: { batch: Batch; release: BatchRelease; studyId: number }) {
  const [open, setOpen] = useState<{ paper: Paper; first: Shown } | null>(null);
  const [last, setLast] = useState<{ number: string; keyed: Keyed } | null>(null);
  const queries = useQueryClient();
  const take = async (paper: Paper) => {
    setOpen({ paper, first: await openPaper(paper, release, batch.language) });
  };
  return (
    <>
      <div className="page-head">
        <h1>
          <Link to={`/studies/${String(studyId)}/field/paper/${String(batch.id)}`}>{batch.name}</Link>
        </h1>
        <span className="muted">{t('keying.tally', { keyed: batch.keyed, received: batch.received })}</span>
        <span className="grow" />
        <span className="muted small">{t('keying.keys')}</span>
      </div>
      {open === null ? (
        <>
          {last !== null && (
            <Alert
              type={last.keyed.state === 'to settle' ? 'warning' : 'success'}
              showIcon
              title={doneWords(last.number, last.keyed)}
              style={{ marginBottom: 12 }}
            />
          )}
          <TakePaper batch={batch} studyId={studyId} onTake={take} />
        </>
      ) : (
        <OnePaper
          key={open.paper.form_id}
          batch={batch}
          release={release}
          paper={open.paper}
          first={open.first}
          onEnd={(keyed) => {
            setLast({ number: open.paper.number, keyed });
            setOpen(null);
            void queries.invalidateQueries({ queryKey: ['study', studyId] });
          }}
          onLeave={() => {
            setOpen(null);
            void queries.invalidateQueries({ queryKey: ['study', studyId] });
          }}
        />
      )}
    </>
  );
}

function doneWords(number: string, keyed: Keyed): string {
  switch (keyed.state) {
    case 'second to key':
      return t('keying.doneFirst', { number });
    case 'to settle':
      return t('keying.doneDiffers', { number, count: keyed.differences });
    default:
      return t('keying.doneWhole', { number });
  }
}

async function openPaper(paper: Paper, release: BatchRelease, language: string): Promise<Shown> {
  const engine = theEngine();
  learnWords(release.compiled.words ?? {});
  await engine.call('loadRelease', release.hash, JSON.stringify(release.compiled));
  const saved = { answers: paper.content.answers, kept: {}, language };
  const outside = { now: new Date().toISOString(), 'enumerator.name': '' };
  const way = await engine.call('open', SESSION, release.hash, saved, outside);
  const { path } = paper.content;
  return showSection(SESSION, path !== null && way.includes(path) ? path : (way[0] ?? ''), false);
}
