import { useQuery } from '@tanstack/react-query';
import { Alert, Button, Dropdown } from 'antd';
import { useEffect, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useStudy } from '../../ui/StudyFrame';
import { useMoments } from '../../ui/moments';
import { Loaded, Shape } from '../../ui/states';
import { useMay } from '../session/session';
import { Answers } from './Answers';
import { useDecide } from './decisions';
import { Revisions, WaitingRevision } from './Revisions';
import { SendBack } from './SendBack';
import { text } from './text';
import './interviews.css';

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
      else if (event.key === 'a' && may('interview.review')) decide.mutate({ id: data.id, state: 'accepted' });
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
          {data.state} · by {data.enumerator}
          {data.started_at == null ? '' : ` · ${dayAndTime(data.started_at)}`}
          {data.practice ? ' · practice' : ''}
        </span>
        <span className="grow" />
        <Button
          disabled={data.previous == null}
          onClick={() => {
            go(data.previous ?? null);
          }}
          aria-label="Previous interview"
        >
          ‹
        </Button>
        <Button
          disabled={data.next == null}
          onClick={() => {
            go(data.next ?? null);
          }}
          aria-label="Next interview"
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
                    label: 'Set aside',
                    disabled: data.state === 'set aside',
                    onClick: () => {
                      decide.mutate({ id: data.id, state: 'set aside' });
                    },
                  },
                  {
                    key: 'undecide',
                    label: 'As it arrived',
                    disabled: data.state === 'arrived',
                    onClick: () => {
                      decide.mutate({ id: data.id, state: 'arrived' });
                    },
                  },
                ],
              }}
            >
              <Button aria-label="More decisions">⋯</Button>
            </Dropdown>
            <Button
              disabled={(data.state === 'sent back' && written.length === 0) || data.problem != null}
              onClick={() => {
                setSendingBack(true);
              }}
            >
              Send back
              {written.length > 0
                ? ` with ${String(written.length)} ${written.length === 1 ? 'remark' : 'remarks'}`
                : ''}{' '}
              …
            </Button>
            <Button
              type="primary"
              disabled={data.state === 'accepted' || data.problem != null}
              onClick={() => {
                decide.mutate({ id: data.id, state: 'accepted' });
              }}
            >
              Accept
            </Button>
          </>
        )}
      </div>
      {data.differs && (
        <Alert
          type="error"
          showIcon
          title="The office computes other values from these answers than the device said. The raw document is kept as it came."
          style={{ marginBottom: 12 }}
        />
      )}
      <WaitingRevision data={data} />
      {data.flags.map((flag) => (
        <Alert key={flag} type="info" showIcon title={flag} style={{ marginBottom: 12 }} />
      ))}
      {data.unfinished !== '' && (
        <Alert type="info" showIcon title={`Packed unfinished: ${data.unfinished}`} style={{ marginBottom: 12 }} />
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
        <Link to={ledger}>All interviews</Link>
        <span className="grow" />
        <span>J K next, previous · A accept · B send back · Esc ledger</span>
      </footer>
      {sendingBack && (
        <SendBack
          line={data}
          onClose={() => {
            setSendingBack(false);
          }}
          remarks={written}
          onSend={(remark) => {
            decide.mutate({ id: data.id, state: 'sent back', remark, remarks: written });
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
      <h2>Not in the data set</h2>
      <p className="bad">{problem.words}</p>
      {problem.place !== '' && <p className="muted">{problem.place}</p>}
      <p>{problem.mend}</p>
      <p className="muted">
        What arrived is kept byte for byte; it can be taken out as <i>raw</i> beside its revision. Once the cause is
        mended it is laid out by itself when the server starts, and no figure counts it until then.
      </p>
    </div>
  );
}

function Facts({ data }: { data: Data }) {
  const { dayAndTime } = useMoments();
  const facts: [string, string][] = [
    ['Started', data.started_at == null ? '–' : dayAndTime(data.started_at)],
    ['Ended', data.ended_at == null ? '–' : dayAndTime(data.ended_at)],
    ['Duration', data.minutes == null ? '–' : `${String(Math.round(data.minutes))} min`],
    ['Arrived', dayAndTime(data.arrived_at)],
    ['Enumerator', data.enumerator],
    ['Device', data.device],
    ['Language', data.language],
    ['Steps recorded', String(data.paradata.length)],
  ];
  return (
    <section className="sheet pad">
      <h2>Paradata</h2>
      <dl className="facts">
        {facts.map(([what, value]) => (
          <div key={what}>
            <dt>{what}</dt>
            <dd>{value}</dd>
          </div>
        ))}
      </dl>
      <p className="muted small clip" title={data.hash}>
        raw document <code>{data.hash.slice(0, 16)}…</code>
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
      aria-label={`${String(times.length)} steps between ${timeOf(new Date(first))} and ${timeOf(new Date(first + span))}`}
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
      <h2>Findings</h2>
      {data.findings.length === 0 && <p className="muted">The engine found nothing wrong.</p>}
      {data.findings.map((f, i) => (
        <p key={i} className="finding-line">
          <span className={f.strength === 'must' ? 'bad' : 'doubt'}>{text(f.message)}</span>{' '}
          <a href={`#at-${text(f.path)}`}>
            <code>{text(f.path)}</code>
          </a>
          {text(f.kept) !== '' && <span className="muted"> kept: “{text(f.kept)}”</span>}
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
      <h2>What happened to it</h2>
      <ul className="history">
        {data.events.map((e, i) => {
          const detail = typeof e.detail === 'object' && e.detail !== null ? (e.detail as Record<string, unknown>) : {};
          return (
            <li key={i}>
              <span className="muted small">{dayAndTime(text(e.at))}</span> <b>{text(e.kind)}</b> · {text(e.by)}
              {text(detail.number) !== '' && <> {text(detail.number)}</>}
              {text(detail.remark) !== '' && <> · “{text(detail.remark)}”</>}
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
