import { useQuery } from '@tanstack/react-query';
import { Alert, Button, Dropdown } from 'antd';
import { useEffect, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useStudy } from '../../ui/StudyFrame';
import { dayAndTime, timeOf } from '../../ui/moments';
import { Loaded, Shape } from '../../ui/states';
import { useMay } from '../session/session';
import { SendBack, useDecide } from './Ledger';

type Data = Schemas['Reading'];
type AnswerLine = Schemas['AnswerLine'];

const text = (value: unknown): string => (typeof value === 'string' || typeof value === 'number' ? String(value) : '');
const headingOf = (line: AnswerLine): string =>
  line.around.map((a) => (a.kind === 'roster' ? `${text(a.title)} ${text(a.row)} of ${text(a.rows)}` : text(a.title))).join(' · ');

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
  const navigate = useNavigate();
  const may = useMay();
  const decide = useDecide(studyId);
  const [sendingBack, setSendingBack] = useState(false);
  const [onlyFound, setOnlyFound] = useState(false);
  const ledger = `/studies/${String(studyId)}/interviews`;
  const go = (id: number | null) => { if (id !== null) void navigate(`${ledger}/${String(id)}`); };
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement || event.ctrlKey || event.metaKey) return;
      if (event.key === 'j') go(data.next ?? null);
      else if (event.key === 'k') go(data.previous ?? null);
      else if (event.key === 'a' && may('interview.review')) decide.mutate({ id: data.id, state: 'accepted', remark: '' });
      else if (event.key === 'b' && may('interview.review')) setSendingBack(true);
      else if (event.key === 'Escape') void navigate(ledger);
    };
    window.addEventListener('keydown', press);
    return () => { window.removeEventListener('keydown', press); };
  });
  const lines = onlyFound ? data.answers.filter((a) => a.broken > 0 || a.edits.length > 0 || data.findings.some((f) => f.path === a.path)) : data.answers;
  const headings = lines.map(headingOf);
  return (
    <div className="page with-status">
      <div className="page-head">
        <h1><Shape state={data.state} /> <span className="mono">{data.key}</span></h1>
        <span className="muted">{data.state} · by {data.enumerator} · {data.started_at == null ? '' : dayAndTime(data.started_at)}{data.practice ? ' · practice' : ''}</span>
        <span className="grow" />
        <Button disabled={data.previous == null} onClick={() => { go(data.previous ?? null); }} aria-label="Previous interview">‹</Button>
        <Button disabled={data.next == null} onClick={() => { go(data.next ?? null); }} aria-label="Next interview">›</Button>
        {may('interview.review') && (
          <>
            <Dropdown trigger={['click']} menu={{ items: [{ key: 'aside', label: 'Set aside', disabled: data.state === 'set aside', onClick: () => { decide.mutate({ id: data.id, state: 'set aside', remark: '' }); } }, { key: 'undecide', label: 'As it arrived', disabled: data.state === 'arrived', onClick: () => { decide.mutate({ id: data.id, state: 'arrived', remark: '' }); } }] }}><Button aria-label="More decisions">⋯</Button></Dropdown>
            <Button disabled={data.state === 'sent back'} onClick={() => { setSendingBack(true); }}>Send back …</Button>
            <Button type="primary" disabled={data.state === 'accepted'} onClick={() => { decide.mutate({ id: data.id, state: 'accepted', remark: '' }); }}>Accept</Button>
          </>
        )}
      </div>
      {data.differs && <Alert type="error" showIcon title="The office computes other values from these answers than the device said. The raw document is kept as it came." style={{ marginBottom: 12 }} />}
      {data.revisions > 0 && <Alert type="warning" showIcon title={`Handed in again with other content ${String(data.revisions)} time${data.revisions > 1 ? 's' : ''}. This is the first; the others are kept.`} style={{ marginBottom: 12 }} />}
      <div className="columns reading">
        <div className="sheet">
          <div className="sheet-head row"><h2>Answers</h2><span className="muted small">release {data.release}, in the order of asking</span><span className="grow" /><button type="button" className="plain-link" aria-pressed={onlyFound} onClick={() => { setOnlyFound(!onlyFound); }}>{onlyFound ? 'Show all' : 'Only what was found or changed'}</button></div>
          {lines.map((line, i) => (
            <div key={line.path}>
              {headings[i] !== headings[i - 1] && <h3 className="reading-head">{headings[i]}</h3>}
              {line.kind === 'statement' ? null : <Answer line={line} findings={data.findings.filter((f) => f.path === line.path)} />}
            </div>
          ))}
          {lines.length === 0 && <p className="pad muted">Nothing was found, nothing was changed.</p>}
        </div>
        <div className="stack">
          <Facts data={data} />
          <Findings data={data} />
          <History data={data} />
        </div>
      </div>
      <footer className="status"><Link to={ledger}>All interviews</Link><span className="grow" /><span>J K next, previous · A accept · B send back · Esc ledger</span></footer>
      {sendingBack && <SendBack line={data} onClose={() => { setSendingBack(false); }} onSend={(remark) => { decide.mutate({ id: data.id, state: 'sent back', remark }); setSendingBack(false); }} />}
    </div>
  );
}

function Answer({ line, findings }: { line: AnswerLine; findings: Record<string, unknown>[] }) {
  const edit = line.edits.at(-1);
  return (
    <div className="reading-line" id={`at-${line.path}`}>
      <code className="muted">{line.variable}</code>
      <span>{line.wording}</span>
      <span>
        {edit ? (
          <>
            <b>{text(edit.after)}</b> <s className="muted">{text(edit.before)}</s>
            <span className="reading-note">cleaned by {text(edit.by)}: {text(edit.reason) || text(edit.kind).replace('_', ' ')}</span>
          </>
        ) : line.state === 'special' ? <i>{line.answer}</i> : line.answer === '' ? <span className="muted">unanswered</span> : <b>{line.answer}</b>}
        {findings.map((f, i) => (
          <span key={i} className={`reading-note ${f.strength === 'must' ? 'bad' : 'doubt'}`}>{text(f.message)}{text(f.kept) !== '' && <> · kept: “{text(f.kept)}”</>}</span>
        ))}
      </span>
    </div>
  );
}

function Facts({ data }: { data: Data }) {
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
      <dl className="facts">{facts.map(([what, value]) => <div key={what}><dt>{what}</dt><dd>{value}</dd></div>)}</dl>
      <p className="muted small clip" title={data.hash}>raw document <code>{data.hash.slice(0, 16)}…</code></p>
      {data.paradata.length > 0 && <Timeline events={data.paradata} />}
    </section>
  );
}

/** When each answer was given: a tick for each, so that haste and pauses can be seen. */
function Timeline({ events }: { events: Record<string, unknown>[] }) {
  const times = events.map((e) => new Date(text(e.at)).getTime()).filter((t) => !Number.isNaN(t));
  const first = Math.min(...times);
  const span = Math.max(1, Math.max(...times) - first);
  return (
    <div className="timeline" role="img" aria-label={`${String(times.length)} steps between ${timeOf(new Date(first))} and ${timeOf(new Date(first + span))}`}>
      {times.map((t, i) => <i key={i} style={{ insetInlineStart: `${String((100 * (t - first)) / span)}%` }} />)}
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
          <a href={`#at-${text(f.path)}`}><code>{text(f.path)}</code></a>
          {text(f.kept) !== '' && <span className="muted"> kept: “{text(f.kept)}”</span>}
        </p>
      ))}
    </section>
  );
}

function History({ data }: { data: Data }) {
  return (
    <section className="sheet pad">
      <h2>What happened to it</h2>
      <ul className="history">
        {data.events.map((e, i) => {
          const detail = typeof e.detail === 'object' && e.detail !== null ? (e.detail as Record<string, unknown>) : {};
          return <li key={i}><span className="muted small">{dayAndTime(text(e.at))}</span> <b>{text(e.kind)}</b> · {text(e.by)}{text(detail.remark) !== '' && <> · “{text(detail.remark)}”</>}</li>;
        })}
      </ul>
    </section>
  );
}
