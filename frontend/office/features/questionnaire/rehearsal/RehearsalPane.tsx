import { Alert } from 'antd';
import { Link } from 'react-router';
import type { Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { Words } from '../../../texts/Words';
import { useMoments } from '../../../ui/moments';
import type { Part, Script } from '../script/model';
import { BlockTimes } from './BlockTimes';
import { LineRehearsed } from './LineRehearsed';
import { GoTo, OrderedWork } from './OrderedWork';
import { OrderLine } from './OrderLine';
import type { Proof, Rehearsal } from './rehearsal';
import { useOrders, useTiming, type useRehearsed } from './useRehearsed';
import './rehearsal.css';

export type FiguresTab = 'rehearsal' | 'proof' | 'tests';

interface Props {
  draft: Schemas['Draft'];
  script: Script;
  part: Part | undefined;
  known: ReturnType<typeof useRehearsed>;
  /** Of the draft as it is kept; null while it has errors. */
  releaseHash: string | null;
  /** Why nothing can be ordered now; empty where it can, null for those who may not. */
  blocked: string | null;
  onGo: (variable: string) => void;
  onGoToPart: (id: string) => void;
  onFigures: (tab: FiguresTab) => void;
}

/** What made-up interviews and the proof say of the questionnaire, and of the line in hand. */
export function RehearsalPane({
  draft,
  script,
  part,
  known,
  releaseHash,
  blocked,
  onGo,
  onGoToPart,
  onFigures,
}: Props) {
  const orders = useOrders(draft.id, known);
  const { rehearsal, proof } = known;
  const timing = useTiming(draft.id);
  return (
    <div className="pane-body rehearsal">
      {blocked !== null && <OrderLine orders={orders} known={known} blocked={blocked !== ''} />}
      {blocked !== null && blocked !== '' && <p className="muted small">{blocked}</p>}
      <OrderedWork order={orders.rehearse} work={rehearsal.work} />
      <OrderedWork order={orders.prove} work={proof.work} />
      {rehearsal.done ? (
        <Rehearsed
          job={rehearsal.done.job}
          result={rehearsal.done.result}
          stale={releaseHash !== null && rehearsal.done.result.hash !== releaseHash}
          onGo={onGo}
        />
      ) : (
        !rehearsal.work.underWay && <p className="muted">{t('questionnaire.interviewsMadeUpWalking')}</p>
      )}
      {part && (rehearsal.done ?? proof.done) && (
        <LineRehearsed
          part={part}
          rehearsal={rehearsal.done?.result ?? null}
          proof={proof.done?.result ?? null}
          measured={timing?.parts.find((m) => m.part === part.id) ?? null}
          onGo={onGo}
        />
      )}
      {rehearsal.done?.result.blocks && (
        <BlockTimes
          blocks={rehearsal.done.result.blocks}
          timing={timing}
          script={script}
          partId={part?.id}
          onGo={onGoToPart}
        />
      )}
      {proof.done && (
        <Proved
          job={proof.done.job}
          result={proof.done.result}
          stale={proof.done.result.hash !== releaseHash}
          onFigures={onFigures}
        />
      )}
      <p className="rehearsal-ways">
        {rehearsal.done && rehearsal.done.result.made > 0 && (
          <>
            {rehearsal.done.result.kept !== undefined && (
              <Link
                to={`/studies/${String(draft.study_id)}/analyse?questionnaire=${String(draft.id)}&made-up=${String(rehearsal.done.job.id)}`}
              >
                {t('rehearsal.openInAnalyse')}
              </Link>
            )}
            <button
              type="button"
              className="plain-link"
              onClick={() => {
                onFigures('rehearsal');
              }}
            >
              {t('rehearsal.allFigures')}
            </button>
          </>
        )}
        <button
          type="button"
          className="plain-link"
          onClick={() => {
            onFigures('tests');
          }}
        >
          {t('questionnaire.testInterviews')} …
        </button>
      </p>
    </div>
  );
}

function Rehearsed({
  job,
  result,
  stale,
  onGo,
}: {
  job: Schemas['JobOut'];
  result: Rehearsal;
  stale: boolean;
  onGo: (variable: string) => void;
}) {
  const { ago } = useMoments();
  return (
    <>
      <p className="rehearsal-summary">
        <Words
          k="rehearsal.madeUp"
          values={{ made: result.made, wanted: result.wanted, at: ago(job.ended_at ?? job.created_at) }}
          parts={{ b: <b /> }}
        />
        {result.minutes && (
          <>
            {' '}
            <Words k="questionnaire.aboutMinutesMostBetween" values={result.minutes} parts={{ b: <b /> }} />
          </>
        )}
        {stale && <span className="doubt"> {t('rehearsal.earlierScript')}</span>}
      </p>
      {result.unmet.length > 0 && (
        <Alert
          type="warning"
          title={t('questionnaire.checksCouldNotMet')}
          description={<Variables names={[...new Set(result.unmet.map((u) => u.variable))]} onGo={onGo} />}
        />
      )}
      {result.made > 0 && result.never_asked.length > 0 && (
        <p>
          <span className="doubt">{t('rehearsal.neverAsked')}</span>{' '}
          <Variables names={result.never_asked} onGo={onGo} />
        </p>
      )}
    </>
  );
}

const MOST_NAMES = 8;

function Variables({ names, onGo }: { names: string[]; onGo: (variable: string) => void }) {
  return (
    <>
      {names.slice(0, MOST_NAMES).map((name, i) => (
        <span key={name}>
          {i > 0 && ' · '}
          <GoTo variable={name} onGo={onGo} />
        </span>
      ))}
      {names.length > MOST_NAMES && ` ${t('rehearsal.andMore', { count: names.length - MOST_NAMES })}`}
    </>
  );
}

function Proved({
  job,
  result,
  stale,
  onFigures,
}: {
  job: Schemas['JobOut'];
  result: Proof;
  stale: boolean;
  onFigures: (tab: FiguresTab) => void;
}) {
  const { ago } = useMoments();
  const faults =
    result.unreachable.length +
    (result.dead_ends ?? []).length +
    result.contradictions.length +
    result.checks.filter((c) => c.verdict === 'never met').length;
  return (
    <section>
      <h3>{t('questionnaire.proof')}</h3>
      <p>
        {faults === 0 ? (
          t('rehearsal.provedSound', { count: result.reached.length, checks: result.checks.length })
        ) : (
          <b className="bad">{t('rehearsal.provedFaults', { count: faults })}</b>
        )}{' '}
        <span className="muted">{ago(job.ended_at ?? job.created_at)}.</span>
        {stale && <span className="doubt"> {t('rehearsal.earlierScript')}</span>}{' '}
        <button
          type="button"
          className="plain-link"
          onClick={() => {
            onFigures('proof');
          }}
        >
          {t('rehearsal.whatWasProved')}
        </button>
      </p>
    </section>
  );
}
