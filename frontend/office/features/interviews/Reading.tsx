import { useQuery } from '@tanstack/react-query';
import { Alert, Button, Dropdown } from 'antd';
import { useEffect, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useMay, useStudy } from '../../ui/study';
import { useMoments } from '../../ui/moments';
import { toldOf } from '../logbook/told';
import { Loaded, Shape, stateWords } from '../../ui/states';
import { Answers } from './Answers';
import { useDecide } from './decisions';
import { Revisions, WaitingRevision } from './Revisions';
import { SendBack } from './SendBack';
import { text } from '../../ui/text';
import './interviews.css';
import { locale, t } from '../../texts/texts';
import { Words } from '../../texts/Words';

type Data = Schemas['Reading'];

/** One interview, read in the order of the questionnaire. */
export default function Reading() {
  const study = useStudy();
  const id = Number(useParams().interviewId);
  const reading = useQuery({
    queryKey: ['interview', id],
    queryFn: () => ask(api.GET('/api/interviews/{interview_id}', { params: { path: { interview_id: id } } })),
  });
  return <Loaded query={reading}>{(data) => <Page data={data} studyId={study.id} />}</Loaded>;
}

function Page({ data, studyId }: { data: Data; studyId: number }) {
  const { dayAndTime } = useMoments();
  const navigate = useNavigate();
  const may = useMay();
  const decide = useDecide(studyId);
  const [sendingBack, setSendingBack] = useState(false);
  const [remarks, setRemarks] = useState<Record<string, string>>({});
  const written = Object.entries(remarks).flatMap(([path, words]) =>
    words.trim() === '' ? [] : [{ path, text: words.trim() }],
  );
  const ledger = `/studies/${String(studyId)}/interviews`;
  const go = (id: number | null) => {
    if (id !== null) void navigate(`${ledger}/${String(id)}`);
  };
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (
        event.target instanceof HTMLInputElement ||
        event.target instanceof HTMLTextAreaElement ||
        event.ctrlKey ||
        event.metaKey
      )
        return;
      if (event.key === 'j') go(data.next ?? null);
      else if (event.key === 'k') go(data.previous ?? null);
      else if (event.key === 'a' && may('interview.review'))
        decide.mutate({ id: data.id, version: data.version, state: 'accepted' });
      else if (event.key === 'b' && may('interview.review')) setSendingBack(true);
      else if (event.key === 'Escape') void navigate(ledger);
    };
    window.addEventListener('keydown', press);
    return () => {
      window.removeEventListener('keydown', press);
    };
  });
  return (
    <div className="page with-status">
      <div className="page-head">
        <h1>
          <Shape state={data.state} /> <span className="mono">{data.key}</span>
        </h1>
        <span className="muted">
          {t('interviews.by', {
            state: stateWords(data.state),
            enumerator: data.enumerator,
            started_at: data.started_at == null ? '' : ` · ${dayAndTime(data.started_at)}`,
          })}
          {data.practice && ` · ${t('interviews.isPractice')}`}
        </span>
        {data.visit != null && <MadeOn visit={data.visit} studyId={data.study_id} />}
        <span className="grow" />
        <Button
          disabled={data.previous == null}
          onClick={() => {
            go(data.previous ?? null);
          }}
          aria-label={t('interviews.previousInterview')}
        >
          ‹
        </Button>
        <Button
          disabled={data.next == null}
          onClick={() => {
            go(data.next ?? null);
          }}
          aria-label={t('interviews.nextInterview')}
        >
          ›
        </Button>
        {may('interview.review') && (
          <>
            <Dropdown
              trigger={['click']}
              menu={{
                items: [
                  {
                    key: 'aside',
                    label: t('interviews.setAside'),
                    disabled: data.state === 'set aside',
                    onClick: () => {
                      decide.mutate({ id: data.id, version: data.version, state: 'set aside' });
                    },
                  },
                  {
                    key: 'undecide',
                    label: t('interviews.arrived'),
                    disabled: data.state === 'arrived',
                    onClick: () => {
                      decide.mutate({ id: data.id, version: data.version, state: 'arrived' });
                    },
                  },
                ],
              }}
            >
              <Button aria-label={t('interviews.moreDecisions')}>⋯</Button>
            </Dropdown>
            <Button
              disabled={(data.state === 'sent back' && written.length === 0) || data.problem != null}
              onClick={() => {
                setSendingBack(true);
              }}
            >
              {written.length > 0
                ? t('interviews.sendBackWithRemarks', { count: written.length })
                : t('interviews.sendBackOpen')}
            </Button>
            <Button
              type="primary"
              disabled={data.state === 'accepted' || data.problem != null}
              onClick={() => {
                decide.mutate({ id: data.id, version: data.version, state: 'accepted' });
              }}
            >
              {t('interviews.accept')}
            </Button>
          </>
        )}
      </div>
      {data.differs && (
        <Alert type="error" showIcon title={t('interviews.officeComputesOtherValues')} style={{ marginBottom: 12 }} />
      )}
      <WaitingRevision data={data} />
      {data.flags.map((flag) => (
        <Alert key={flag} type="info" showIcon title={flag} style={{ marginBottom: 12 }} />
      ))}
      {data.unfinished !== '' && (
        <Alert
          type="info"
          showIcon
          title={t('interviews.packedUnfinished', { unfinished: data.unfinished })}
          style={{ marginBottom: 12 }}
        />
      )}
      <div className="columns reading">
        {data.problem == null ? (
          <Answers
            data={data}
            remarks={may('interview.review') ? remarks : null}
            onRemark={(path, words) => {
              setRemarks((before) => ({ ...before, [path]: words }));
            }}
          />
        ) : (
          <NotLaidOut problem={data.problem} />
        )}
        <div className="stack">
          <Facts data={data} />
          <Revisions data={data} />
          {data.problem == null && <Findings data={data} />}
          <History data={data} />
        </div>
      </div>
      <footer className="status">
        <Link to={ledger}>{t('interviews.allInterviews')}</Link>
        <span className="grow" />
        <span>{t('interviews.jKNextPrevious')}</span>
      </footer>
      {sendingBack && (
        <SendBack
          line={data}
          onClose={() => {
            setSendingBack(false);
          }}
          remarks={written}
          onSend={(remark) => {
            decide.mutate({ id: data.id, version: data.version, state: 'sent back', remark, remarks: written });
            setSendingBack(false);
            setRemarks({});
          }}
        />
      )}
    </div>
  );
}

/** Why the interview is not in the data set, and what to do. */
function NotLaidOut({ problem }: { problem: Schemas['ProblemOut'] }) {
  return (
    <div className="sheet pad">
      <h2>{t('interviews.notInDataSet')}</h2>
      <p className="bad">{problem.words}</p>
      {problem.place !== '' && <p className="muted">{problem.place}</p>}
      <p>{problem.mend}</p>
      <p className="muted">
        <Words k="interviews.whatArrivedKeptByte" parts={{ i: <i /> }} />
      </p>
    </div>
  );
}

function Facts({ data }: { data: Data }) {
  const { dayAndTime } = useMoments();
  const facts: [string, string][] = [
    [t('interviews.started'), data.started_at == null ? '–' : dayAndTime(data.started_at)],
    [t('interviews.ended'), data.ended_at == null ? '–' : dayAndTime(data.ended_at)],
    [
      t('interviews.duration'),
      data.minutes == null ? '–' : t('interviews.minutesLong', { minutes: Math.round(data.minutes) }),
    ],
    [t('interviews.arrived2'), dayAndTime(data.arrived_at)],
    [t('common.enumerator'), data.enumerator],
    ...(data.contact === '' ? [] : [[t('interviews.contact'), data.contact] as [string, string]]),
    [t('common.device'), data.device],
    [t('interviews.language'), data.language],
    ...(data.place == null ? [] : [[t('interviews.place'), placeWords(data.place)] as [string, string]]),
    [t('interviews.stepsRecorded'), String(data.paradata.length)],
  ];
  return (
    <section className="sheet pad">
      <h2>{t('interviews.paradata')}</h2>
      <dl className="facts">
        {facts.map(([what, value]) => (
          <div key={what}>
            <dt>{what}</dt>
            <dd>{value}</dd>
          </div>
        ))}
      </dl>
      <p className="muted small clip" title={data.hash}>
        <Words k="interviews.rawDocument" values={{ hash: data.hash.slice(0, 16) }} parts={{ code: <code /> }} />
      </p>
      {data.paradata.length > 0 && <Timeline events={data.paradata} />}
    </section>
  );
}

/** When each answer was given: a tick for each, so that haste and pauses can be seen. */
function Timeline({ events }: { events: Record<string, unknown>[] }) {
  const { timeOf } = useMoments();
  const times = events.map((e) => new Date(text(e.at)).getTime()).filter((t) => !Number.isNaN(t));
  const first = Math.min(...times);
  const span = Math.max(1, Math.max(...times) - first);
  return (
    <div
      className="timeline"
      role="img"
      aria-label={t('interviews.stepsBetween', {
        times: times.length,
        value: timeOf(new Date(first)),
        value2: timeOf(new Date(first + span)),
      })}
    >
      {times.map((t, i) => (
        <i key={i} style={{ insetInlineStart: `${String((100 * (t - first)) / span)}%` }} />
      ))}
    </div>
  );
}

function Findings({ data }: { data: Data }) {
  return (
    <section className="sheet pad">
      <h2>{t('common.findings')}</h2>
      {data.findings.length === 0 && <p className="muted">{t('interviews.engineFoundNothingWrong')}</p>}
      {data.findings.map((f, i) => (
        <p key={i} className="finding-line">
          <span className={f.strength === 'must' ? 'bad' : 'doubt'}>{text(f.message)}</span>{' '}
          <a href={`#at-${text(f.path)}`}>
            <code>{text(f.path)}</code>
          </a>
          {text(f.kept) !== '' && <span className="muted"> {t('interviews.keptBecause', { kept: text(f.kept) })}</span>}
        </p>
      ))}
    </section>
  );
}

const remarksIn = (detail: Record<string, unknown>): { path: string; text: string }[] =>
  Array.isArray(detail.remarks)
    ? detail.remarks.map((r: Record<string, unknown>) => ({ path: text(r.path), text: text(r.text) }))
    : [];

function History({ data }: { data: Data }) {
  const { dayAndTime } = useMoments();
  return (
    <section className="sheet pad">
      <h2>{t('interviews.whatHappened')}</h2>
      <ul className="history">
        {data.events.map((e, i) => {
          const detail = typeof e.detail === 'object' && e.detail !== null ? (e.detail as Record<string, unknown>) : {};
          return (
            <li key={i}>
              <span className="muted small">{dayAndTime(text(e.at))}</span> <b>{text(e.by)}</b>{' '}
              {toldOf(text(e.kind), detail)}
              {remarksIn(detail).map((r) => (
                <span key={r.path} className="reading-note">
                  <code>{r.path}</code> “{r.text}”
                </span>
              ))}
            </li>
          );
        })}
      </ul>
    </section>
  );
}

function placeWords(place: Schemas['PlaceNoted']): string {
  if (place.latitude == null || place.longitude == null) return t('interviews.noPlace', { why: place.problem });
  const where = `${place.latitude.toFixed(5)}, ${place.longitude.toFixed(5)}`;
  return place.accuracy == null ? where : `${where} ±${String(Math.round(place.accuracy))} m`;
}

/** Farther than this from where the unit lies is worth a word. */
const AT_THE_DOOR_METRES = 100;
const metres = new Intl.NumberFormat(locale, { style: 'unit', unit: 'meter', maximumFractionDigits: 0 });

/** The visit that it was made on, and how far from its unit that was. */
function MadeOn({ visit, studyId }: { visit: Schemas['VisitBehind']; studyId: number }) {
  const { label, list, list_id: listId, metres_off: off } = visit;
  return (
    <>
      <Link to={`/studies/${String(studyId)}/plan/visits?list=${String(listId)}&visit=${String(visit.id)}`}>
        {t('interviews.visitTo', { label, list })}
      </Link>
      {off !== null && off > AT_THE_DOOR_METRES && (
        <span className="bad">{t('interviews.farFromUnit', { metres: metres.format(off) })}</span>
      )}
    </>
  );
}
