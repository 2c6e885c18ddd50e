import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useStudy } from '../../ui/StudyFrame';
import { useMay } from '../session/session';
import { useMoments } from '../../ui/moments';
import { Empty, Loaded, SHAPES, Shape } from '../../ui/states';
import { tellMatter } from './matters';
import './logbook.css';

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
            title="Your work is not at the desk."
            action={
              <a className="go-link" href="/field/">
                Open the field page
              </a>
            }
          >
            Interviews are held on the phone. Ask the data manager if you should see more here.
          </Empty>
        </div>
      </div>
    );
  }
  const today = new Date().toLocaleDateString('en-GB', {
    weekday: 'long',
    day: 'numeric',
    month: 'long',
    year: 'numeric',
    timeZone: study.time_zone,
  });
  return (
    <div className="page">
      <div className="page-head">
        <h1>Logbook</h1>
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
          title="This study has no questionnaire yet."
          action={
            <Link className="go-link" to={`${at}/questionnaire`}>
              Write the questionnaire
            </Link>
          }
        />
      </div>
    );
  }
  return (
    <section className="sheet" aria-label="Waiting for a decision">
      <h2 className="sheet-head">Waiting for a decision</h2>
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
        <Empty title="Nothing waits for you.">What needs a decision is listed here as it comes up.</Empty>
      )}
    </section>
  );
}

const TOLD: Record<string, (event: Schemas['EventOut']) => string> = {
  arrived: () => 'handed in',
  read: () => 'read',
  accepted: () => 'accepted',
  'sent back': (e) => `sent back${remarkOf(e)}`,
  'set aside': () => 'set aside',
  revision: (e) =>
    `handed in revision ${textOf(e.detail.number)}${textOf(e.detail.waits) === '' ? ', which counts now' : ', which waits for a decision'}`,
  'revision decided': (e) => `decided that revision ${textOf(e.detail.number)} counts`,
  'bundle read in': (e) => `read in a file of ${textOf(e.detail.device)}: ${textOf(e.detail.interviews)} interviews`,
  released: (e) => `released ${textOf(e.detail.title)} as release ${textOf(e.detail.number)}`,
  'device paired': (e) => `paired ${textOf(e.detail.device)}`,
  'device cut off': (e) => `cut off ${textOf(e.detail.device)}`,
  'device given back': (e) => `gave back ${textOf(e.detail.device)}`,
  'cleaning step kept': (e) =>
    `kept a cleaning step: ${textOf(e.detail.kind).replace('_', ' ')} ${textOf(e.detail.variable)}`,
  'cleaning step taken back': (e) => `took back a cleaning step on ${textOf(e.detail.variable)}`,
  'cleaning step put back': (e) => `put back a cleaning step on ${textOf(e.detail.variable)}`,
  'outside table brought in': (e) => `brought in ${textOf(e.detail.name)}, ${textOf(e.detail.rows)} rows`,
  'table joined': (e) => `joined ${textOf(e.detail.name)} to the interviews`,
  'join undone': (e) => `undid the join of ${textOf(e.detail.name)}`,
  'table saved': (e) => `saved the table ${textOf(e.detail.title)}`,
  'extract ordered': (e) => `took out an extract (.${textOf(e.detail.format)})`,
};
const textOf = (value: unknown): string =>
  typeof value === 'string' || typeof value === 'number' ? String(value) : '';
const remarkOf = (e: Schemas['EventOut']): string =>
  textOf(e.detail.remark) === '' ? '' : `: “${textOf(e.detail.remark)}”`;

function Events({ events, study }: { events: Schemas['EventOut'][]; study: number }) {
  const { ago } = useMoments();
  return (
    <section className="sheet" aria-label="What happened">
      <h2 className="sheet-head">What happened</h2>
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
              <b>{event.by}</b> {TOLD[event.kind]?.(event) ?? event.kind}
            </span>
            <span className="muted small">{ago(event.at)}</span>
          </li>
        ))}
      </ul>
      {events.length === 0 && <Empty title="Nothing has happened yet." />}
    </section>
  );
}

/** Every interview of the ledger is in one of three places; the figures add up. */
function WhereTheyAre({ account, study }: { account: Schemas['Account']; study: number }) {
  const ledger = `/studies/${String(study)}/interviews`;
  return (
    <section className="sheet pad" aria-label="Where the interviews are">
      <h2>Where the interviews are</h2>
      <div className="account">
        <Link to={ledger}>
          <b>{account.arrived}</b>
          <br />
          arrived =
        </Link>
        <span>
          <b>{account.in_data_set}</b>
          <br />
          in the data set +
        </span>
        <Link to={`${ledger}?findings=not_laid_out`} className={account.not_laid_out > 0 ? 'not-laid-out' : ''}>
          <b>{account.not_laid_out}</b>
          <br />
          not laid out +
        </Link>
        <Link to={`${ledger}?state=set aside`}>
          <b>{account.set_aside}</b>
          <br />
          set aside
        </Link>
      </div>
    </section>
  );
}

function ByEnumerator({ data, study }: { data: Schemas['Logbook']; study: number }) {
  const most = Math.max(1, ...data.enumerators.map((e) => e.arrived));
  return (
    <section className="sheet pad" aria-label="Interviews by enumerator">
      <div className="page-head tight">
        <h2>Interviews by enumerator</h2>
        <span className="grow" />
        <span className="muted small">median minutes</span>
      </div>
      {data.enumerators.map((e) => (
        <Link
          key={e.enumerator}
          className="bar-line"
          to={`/studies/${String(study)}/interviews?enumerator=${encodeURIComponent(e.enumerator)}`}
        >
          <span className="bar-name clip">{e.enumerator}</span>
          <span className="bar" role="img" aria-label={`${String(e.accepted)} of ${String(e.arrived)} accepted`}>
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
        <i className="swatch accepted" /> accepted <i className="swatch arrived" /> not yet · median of all{' '}
        {data.median_minutes ?? '–'} min
      </p>
    </section>
  );
}

function Days({ days }: { days: Schemas['DayCount'][] }) {
  const most = Math.max(1, ...days.map((d) => d.interviews));
  return (
    <section className="sheet pad" aria-label="Interviews a day">
      <h2>Interviews a day</h2>
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
