import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useMay, useStudy } from '../../ui/study';
import { useMoments } from '../../ui/moments';
import { Empty, Loaded, SHAPES, Shape } from '../../ui/states';
import { KeptMaps } from './KeptMaps';
import { tellMatter } from './matters';
import { toldOf } from './told';
import './logbook.css';
import { locale, t } from '../../texts/texts';

/** What happened, and what waits for a decision. */
export default function Logbook() {
  const study = useStudy();
  const may = useMay();
  const reads = may('interview.read');
  const logbook = useQuery({
    queryKey: ['study', study.id, 'logbook'],
    queryFn: () => ask(api.GET('/api/studies/{study_id}/logbook', { params: { path: { study_id: study.id } } })),
    refetchInterval: 20_000,
    enabled: reads,
  });
  if (!reads) {
    return (
      <div className="page">
        <div className="sheet">
          <Empty
            title={t('logbook.yourWorkNotDesk')}
            action={
              <a className="go-link" href="/field/">
                {t('logbook.openFieldPage')}
              </a>
            }
          >
            {t('logbook.interviewsHeldPhoneAsk')}
          </Empty>
        </div>
      </div>
    );
  }
  const today = new Date().toLocaleDateString(locale, {
    weekday: 'long',
    day: 'numeric',
    month: 'long',
    year: 'numeric',
    timeZone: study.time_zone,
  });
  return (
    <div className="page">
      <div className="page-head">
        <h1>{t('common.logbook')}</h1>
        <span className="muted">{today}</span>
      </div>
      <Loaded query={logbook}>
        {(data) => (
          <div className="columns">
            <div className="stack">
              <Matters matters={data.matters} study={study} />
              <Events events={data.events} study={study.id} />
            </div>
            <div className="stack">
              {data.account.arrived > 0 && <WhereTheyAre account={data.account} study={study.id} />}
              {data.interviews > 0 && <ByEnumerator data={data} study={study.id} />}
              {data.interviews > 0 && <Days days={data.days} />}
              <KeptMaps />
            </div>
          </div>
        )}
      </Loaded>
    </div>
  );
}

function Matters({ matters, study }: { matters: Schemas['Matter'][]; study: Schemas['StudyOut'] }) {
  const moments = useMoments();
  const at = `/studies/${String(study.id)}`;
  if (study.questionnaires.length === 0) {
    return (
      <div className="sheet">
        <Empty
          title={t('logbook.thisStudyHasNo')}
          action={
            <Link className="go-link" to={`${at}/questionnaire`}>
              {t('logbook.writeQuestionnaire')}
            </Link>
          }
        />
      </div>
    );
  }
  return (
    <section className="sheet" aria-label={t('logbook.waitingDecision')}>
      <h2 className="sheet-head">{t('logbook.waitingDecision')}</h2>
      {matters.map((matter) => {
        const { title, text, to, urgent } = tellMatter(matter, moments);
        return (
          <Link key={matter.kind} to={`${at}/${to}`} className="matter">
            <span className={urgent ? 'matter-count urgent' : 'matter-count'}>{matter.count}</span>
            <span>
              <b>{title}</b>
              <span className="muted small">{text}</span>
            </span>
          </Link>
        );
      })}
      {matters.length === 0 && (
        <Empty title={t('logbook.nothingWaitsYou')}>{t('logbook.whatNeedsDecisionListed')}</Empty>
      )}
    </section>
  );
}

function Events({ events, study }: { events: Schemas['EventOut'][]; study: number }) {
  const { ago } = useMoments();
  return (
    <section className="sheet" aria-label={t('logbook.whatHappened')}>
      <h2 className="sheet-head">{t('logbook.whatHappened')}</h2>
      <ul className="events">
        {events.slice(0, 14).map((event) => (
          <li key={event.id}>
            <span className="event-shape">
              {event.kind in SHAPES ? <Shape state={event.kind} /> : <span className="muted">·</span>}
            </span>
            <span className="clip">
              {event.interview_id !== null && (
                <Link to={`/studies/${String(study)}/interviews/${String(event.interview_id)}`} className="mono">
                  {event.interview}
                </Link>
              )}{' '}
              <b>{event.by}</b> {toldOf(event.kind, event.detail)}
            </span>
            <span className="muted small">{ago(event.at)}</span>
          </li>
        ))}
      </ul>
      {events.length === 0 && <Empty title={t('logbook.nothingHasHappenedYet')} />}
    </section>
  );
}

/** Every interview of the ledger is in one of three places; the figures add up. */
function WhereTheyAre({ account, study }: { account: Schemas['Account']; study: number }) {
  const ledger = `/studies/${String(study)}/interviews`;
  return (
    <section className="sheet pad" aria-label={t('logbook.whereInterviews')}>
      <h2>{t('logbook.whereInterviews')}</h2>
      <div className="account">
        <Link to={ledger}>
          <b>{account.arrived}</b>
          <br />
          {t('logbook.arrived')}
        </Link>
        <span>
          <b>{account.in_data_set}</b>
          <br />
          {t('logbook.dataSet')}
        </span>
        <Link to={`${ledger}?findings=not_laid_out`} className={account.not_laid_out > 0 ? 'not-laid-out' : ''}>
          <b>{account.not_laid_out}</b>
          <br />
          {t('logbook.notLaidOut')}
        </Link>
        <Link to={`${ledger}?state=set aside`}>
          <b>{account.set_aside}</b>
          <br />
          {t('logbook.setAside')}
        </Link>
      </div>
    </section>
  );
}

function ByEnumerator({ data, study }: { data: Schemas['Logbook']; study: number }) {
  const most = Math.max(1, ...data.enumerators.map((e) => e.arrived));
  return (
    <section className="sheet pad" aria-label={t('logbook.interviewsEnumerator')}>
      <div className="page-head tight">
        <h2>{t('logbook.interviewsEnumerator')}</h2>
        <span className="grow" />
        <span className="muted small">{t('logbook.medianMinutes')}</span>
      </div>
      {data.enumerators.map((e) => (
        <Link
          key={e.enumerator}
          className="bar-line"
          to={`/studies/${String(study)}/interviews?enumerator=${encodeURIComponent(e.enumerator)}`}
        >
          <span className="bar-name clip">{e.enumerator}</span>
          <span
            className="bar"
            role="img"
            aria-label={t('logbook.acceptedOf', { accepted: e.accepted, arrived: e.arrived })}
          >
            <i style={{ width: `${String((100 * e.accepted) / most)}%` }} className="bar-accepted" />
            <i style={{ width: `${String((100 * (e.arrived - e.accepted)) / most)}%` }} className="bar-arrived" />
          </span>
          <span className="bar-count">
            {e.accepted}/{e.arrived}
          </span>
          <span
            className={
              e.median_minutes !== null && data.median_minutes !== null && e.median_minutes < data.median_minutes / 2
                ? 'bar-minutes odd'
                : 'bar-minutes'
            }
          >
            {e.median_minutes ?? '–'}
          </span>
        </Link>
      ))}
      <p className="muted small legend">
        <i className="swatch accepted" /> {t('logbook.accepted')} <i className="swatch arrived" />{' '}
        {t('logbook.notYetMedianAll', { median_minutes: data.median_minutes ?? '–' })}
      </p>
    </section>
  );
}

function Days({ days }: { days: Schemas['Day'][] }) {
  const most = Math.max(1, ...days.map((d) => d.interviews));
  return (
    <section className="sheet pad" aria-label={t('logbook.interviewsDay')}>
      <h2>{t('logbook.interviewsDay')}</h2>
      <div className="days">
        {days.map((d) => (
          <div key={d.day} title={`${d.day}: ${String(d.interviews)}`}>
            <span className="small">{d.interviews}</span>
            <i style={{ height: `${String((56 * d.interviews) / most)}px` }} />
            <span className="muted small">{d.day.slice(8)}</span>
          </div>
        ))}
      </div>
    </section>
  );
}
