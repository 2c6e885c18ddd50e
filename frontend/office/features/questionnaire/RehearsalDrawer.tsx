import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Alert, Button, Drawer, Input, InputNumber, Progress, Table, Tabs } from 'antd';
import { useState } from 'react';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useMoments } from '../../ui/moments';
import { Empty, messageOf } from '../../ui/states';
import { isProof, isRehearsal, type Proof, type Rehearsal } from './rehearsal';
import { TestsTab } from './TestsTab';

type Job = Schemas['JobOut'];

interface Props {
  questionnaireId: number;
  studyId: number;
  waiting: boolean;
  errors: number;
  onClose: () => void;
  onGo: (variable: string) => void;
}

/** Made-up interviews and the proof of what can never be reached: ordered here, worked on in the background. */
export function RehearsalDrawer({ questionnaireId, studyId, waiting, errors, onClose, onGo }: Props) {
  const [tab, setTab] = useState('rehearsal');
  const blocked =
    errors > 0
      ? 'Mend the errors first: what cannot be compiled cannot be tried.'
      : waiting
        ? 'The last change is being saved …'
        : '';
  return (
    <Drawer open size={760} title="Rehearsal and proof" onClose={onClose}>
      {blocked !== '' && <Alert type="warning" title={blocked} style={{ marginBottom: 12 }} />}
      <Tabs
        activeKey={tab}
        onChange={setTab}
        items={[
          {
            key: 'rehearsal',
            label: 'Rehearsal',
            children: <RehearsalTab {...{ questionnaireId, studyId, onGo }} blocked={blocked !== ''} />,
          },
          {
            key: 'proof',
            label: 'Proof',
            children: <ProofTab {...{ questionnaireId, studyId, onGo }} blocked={blocked !== ''} />,
          },
          { key: 'tests', label: 'Test interviews', children: <TestsTab questionnaireId={questionnaireId} /> },
        ]}
      />
    </Drawer>
  );
}

interface TabProps {
  questionnaireId: number;
  studyId: number;
  blocked: boolean;
  onGo: (variable: string) => void;
}

/** The newest job of a kind for this questionnaire, looked at again while it runs. */
function useNewestJob(studyId: number, questionnaireId: number, kind: 'rehearsal' | 'proof') {
  const queries = useQueryClient();
  const key = ['study', studyId, 'jobs', kind];
  const jobs = useQuery({
    queryKey: key,
    queryFn: () =>
      ask(api.GET('/api/studies/{study_id}/jobs', { params: { path: { study_id: studyId }, query: { kind } } })),
    refetchInterval: (query) => (query.state.data?.some(isUnderWay) === true ? 500 : false),
  });
  const job = jobs.data?.find((j) => j.order.questionnaire_id === questionnaireId);
  return { job, refresh: () => queries.invalidateQueries({ queryKey: key }) };
}

const isUnderWay = (job: Job): boolean => job.state === 'waiting' || job.state === 'running';

function UnderWay({ job, refresh }: { job: Job; refresh: () => Promise<void> }) {
  const cancel = useMutation({
    mutationFn: () => ask(api.POST('/api/jobs/{job_id}/cancel', { params: { path: { job_id: job.id } } })),
    onSuccess: refresh,
  });
  return (
    <div className="under-way" role="status">
      <Progress aria-label="How far" percent={Math.round(100 * job.progress)} />
      <span className="muted">{job.saying || 'waiting'}</span>
      <Button
        size="small"
        onClick={() => {
          cancel.mutate();
        }}
      >
        Cancel
      </Button>
    </div>
  );
}

function RehearsalTab({ questionnaireId, studyId, blocked, onGo }: TabProps) {
  const [interviews, setInterviews] = useState(200);
  const [seed, setSeed] = useState(1);
  const [day, setDay] = useState('');
  const { job, refresh } = useNewestJob(studyId, questionnaireId, 'rehearsal');
  const order = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/rehearsals', {
          params: { path: { questionnaire_id: questionnaireId } },
          body: { interviews, seed, day: day === '' ? null : day },
        }),
      ),
    onSuccess: refresh,
  });
  const busy = order.isPending || (job !== undefined && isUnderWay(job));
  const result = job?.state === 'done' && isRehearsal(job.result) ? job.result : null;
  return (
    <>
      <p className="muted">
        Interviews made up by walking the questionnaire; every one keeps all hard checks. They are never mixed with real
        ones.
      </p>
      <div className="row order-line">
        <label>
          Interviews{' '}
          <InputNumber
            min={1}
            max={5000}
            value={interviews}
            onChange={(n) => {
              setInterviews(n ?? 200);
            }}
          />
        </label>
        <label>
          Seed{' '}
          <InputNumber
            value={seed}
            onChange={(n) => {
              setSeed(n ?? 1);
            }}
            title="The same seed makes the same interviews up"
          />
        </label>
        <label>
          As if on{' '}
          <Input
            type="date"
            value={day}
            onChange={(e) => {
              setDay(e.target.value);
            }}
            title="Today, if it is left empty"
          />
        </label>
        <Button
          type="primary"
          disabled={blocked || busy}
          onClick={() => {
            order.mutate();
          }}
        >
          Rehearse
        </Button>
      </div>
      {order.error && <Alert type="error" showIcon title={messageOf(order.error)} />}
      {job && isUnderWay(job) && <UnderWay job={job} refresh={refresh} />}
      {job?.state === 'failed' && <Alert type="error" showIcon title={job.problem} />}
      {job && result ? (
        <RehearsalResult job={job} result={result} onGo={onGo} />
      ) : (
        !busy && job?.state !== 'failed' && <Empty title="Not rehearsed yet." />
      )}
    </>
  );
}

function RehearsalResult({ job, result, onGo }: { job: Job; result: Rehearsal; onGo: (variable: string) => void }) {
  const { ago } = useMoments();
  return (
    <>
      <p>
        <b>
          {result.made} of {result.wanted}
        </b>{' '}
        interviews, {ago(job.ended_at ?? job.created_at)}, seed {result.seed}
        {result.day !== undefined && `, as if on ${result.day}`}.{' '}
        {result.minutes && (
          <>
            About <b>{result.minutes.median} minutes</b>, most between {result.minutes.tenth} and{' '}
            {result.minutes.ninetieth}.
          </>
        )}
      </p>
      {result.unmet.length > 0 && (
        <Alert
          type="warning"
          title="Checks that could not be met"
          description={
            <>
              {result.unmet.some((u) => /\b(today|now)\b/.test(u.rule)) && (
                <p>Some speak of today: if the fieldwork begins later, rehearse as if on a day of it.</p>
              )}
              <ul className="plain-list">
                {result.unmet.map((u) => (
                  <li key={u.variable + u.rule}>
                    <button
                      type="button"
                      className="plain-link"
                      onClick={() => {
                        onGo(u.variable);
                      }}
                    >
                      <code>{u.variable}</code>
                    </button>
                    : <code>{u.rule}</code>: in {u.interviews} {u.interviews === 1 ? 'interview' : 'interviews'},{' '}
                    {u.tries.toLocaleString('en')} answers tried
                  </li>
                ))}
              </ul>
            </>
          }
        />
      )}
      {result.made === 0 ? (
        <Empty title="No interview could be made up.">
          What each question and rule comes to is known only where there are interviews. The proof says what is in the
          way.
        </Empty>
      ) : (
        <RehearsalTables job={job} result={result} onGo={onGo} />
      )}
    </>
  );
}

function RehearsalTables({ job, result, onGo }: { job: Job; result: Rehearsal; onGo: (variable: string) => void }) {
  const share = (n: number) => `${String(Math.round((100 * n) / result.made))} %`;
  return (
    <>
      <Button size="small" href={`/api/jobs/${String(job.id)}/file`} download>
        Take out all files
      </Button>
      <p className="muted small">{result.assumption}</p>
      <Table
        size="small"
        rowKey="variable"
        pagination={false}
        dataSource={result.reach}
        columns={[
          {
            title: 'Question',
            render: (_, r) => (
              <button
                type="button"
                className="plain-link"
                onClick={() => {
                  onGo(r.variable);
                }}
              >
                <code>{r.variable}</code>
              </button>
            ),
          },
          { title: 'Kind', dataIndex: 'kind', render: (kind: string) => <span className="muted">{kind}</span> },
          {
            title: 'Asked',
            align: 'right',
            width: 90,
            render: (_, r) => (r.asked === 0 ? <b className="doubt">never</b> : r.asked),
          },
          { title: '', align: 'right', width: 60, render: (_, r) => <span className="muted">{share(r.asked)}</span> },
          {
            title: 'Answered',
            align: 'right',
            width: 90,
            render: (_, r) => (r.kind === 'statement' ? '' : r.answered),
          },
        ]}
      />
      <h3 className="after-table">How often each rule came out yes, no and unknown</h3>
      <Table
        size="small"
        rowKey={(f) => `${f.variable}/${f.field}/${f.rule}`}
        pagination={false}
        dataSource={result.rules}
        columns={[
          { title: 'Question', render: (_, f) => <code>{f.variable}</code> },
          {
            title: 'Rule',
            render: (_, f) => (
              <>
                <span className="muted small">{f.field}</span> <code>{f.rule}</code>
              </>
            ),
          },
          { title: 'Yes', dataIndex: 'yes', align: 'right', width: 60 },
          { title: 'No', dataIndex: 'no', align: 'right', width: 60 },
          { title: 'Unknown', dataIndex: 'unknown', align: 'right', width: 80 },
        ]}
      />
    </>
  );
}

function ProofTab({ questionnaireId, studyId, blocked, onGo }: TabProps) {
  const { job, refresh } = useNewestJob(studyId, questionnaireId, 'proof');
  const order = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/proofs', {
          params: { path: { questionnaire_id: questionnaireId } },
        }),
      ),
    onSuccess: refresh,
  });
  const busy = order.isPending || (job !== undefined && isUnderWay(job));
  const result = job?.state === 'done' && isProof(job.result) ? job.result : null;
  return (
    <>
      <p className="muted">
        For each question: whether an interview that keeps all hard checks can reach it, and by which fewest answers.
        For each hard check: whether it can ever fail and ever be met.
      </p>
      <div className="row order-line">
        <Button
          type="primary"
          disabled={blocked || busy}
          onClick={() => {
            order.mutate();
          }}
        >
          Prove
        </Button>
      </div>
      {order.error && <Alert type="error" showIcon title={messageOf(order.error)} />}
      {job && isUnderWay(job) && <UnderWay job={job} refresh={refresh} />}
      {job?.state === 'failed' && <Alert type="error" showIcon title={job.problem} />}
      {job && result ? (
        <ProofResult job={job} result={result} onGo={onGo} />
      ) : (
        !busy && job?.state !== 'failed' && <Empty title="Not proved yet." />
      )}
    </>
  );
}

function ProofResult({ job, result, onGo }: { job: Job; result: Proof; onGo: (variable: string) => void }) {
  const { ago } = useMoments();
  const paired = new Set(
    result.contradictions.flatMap((c) => [`${c.first} ${c.first_rule}`, `${c.second} ${c.second_rule}`]),
  );
  const faulty = result.checks.filter((c) => c.verdict === 'never met' && !paired.has(`${c.variable} ${c.rule}`));
  const deadEnds = result.dead_ends ?? [];
  const idle = result.checks.filter((c) => c.verdict === 'never fails');
  const open = [
    ...result.undecided.map((u) => ({ variable: u.variable, text: u.why })),
    ...result.checks
      .filter((c) => c.verdict === 'undecided')
      .map((c) => ({ variable: c.variable, text: `${c.rule}: ${c.why}` })),
  ];
  const sound =
    result.unreachable.length === 0 &&
    deadEnds.length === 0 &&
    faulty.length === 0 &&
    result.contradictions.length === 0;
  return (
    <>
      <p>
        <b>{summary(result, sound)}</b> {result.checks.length} hard checks, {result.tests.length} test interviews kept.
        Proved {ago(job.ended_at ?? job.created_at)}
        {result.day !== undefined && `, for interviews on ${result.day} and up to two years later`}.
      </p>
      {result.day !== undefined && result.day > (job.ended_at ?? job.created_at).slice(0, 10) && (
        <p className="muted">Before that day no interview keeps all hard checks.</p>
      )}
      <Told
        title="Dead ends"
        tone="bad"
        lines={deadEnds.map((d) => ({ variable: d.variable, text: d.why }))}
        onGo={onGo}
      />
      <Told
        title="Never asked"
        tone="bad"
        lines={result.unreachable.map((u) => ({ variable: u.variable, text: u.why }))}
        onGo={onGo}
      />
      <Told
        title="Checks that can never be met"
        tone="bad"
        lines={faulty.map((c) => ({ variable: c.variable, text: `${c.rule}: ${c.why}` }))}
        onGo={onGo}
      />
      <Told
        title="Checks that contradict each other"
        tone="bad"
        lines={result.contradictions.map((c) => ({
          variable: c.first,
          text: `${c.first_rule} and ${c.second}: ${c.second_rule}`,
        }))}
        onGo={onGo}
      />
      <Told
        title="Checks that can never fail"
        tone="doubt"
        lines={idle.map((c) => ({ variable: c.variable, text: `${c.rule}: ${c.why}` }))}
        onGo={onGo}
      />
      <Told title="Undecided" tone="doubt" lines={open} onGo={onGo} />
      <h3 className="after-table">The fewest answers that lead to each question</h3>
      <Table
        size="small"
        rowKey="variable"
        pagination={false}
        dataSource={result.reached.filter((r) => Object.keys(r.answers).length > 0)}
        columns={[
          {
            title: 'Question',
            width: 200,
            render: (_, r) => (
              <button
                type="button"
                className="plain-link"
                onClick={() => {
                  onGo(r.variable);
                }}
              >
                <code>{r.variable}</code>
              </button>
            ),
          },
          {
            title: 'Asked after',
            render: (_, r) => (
              <span className="mono small">
                {Object.entries(r.answers)
                  .map(([path, value]) => `${path}: ${plain(value)}`)
                  .join(' · ')}
              </span>
            ),
          },
        ]}
      />
    </>
  );
}

function summary(result: Proof, sound: boolean): string {
  const reached = `${String(result.reached.length)} questions can be reached`;
  if (sound) return `All ${reached}.`;
  return result.unreachable.length > 0
    ? `${reached}, ${String(result.unreachable.length)} never.`
    : `${reached}, but some of it cannot be finished as it stands.`;
}

const plain = (value: unknown): string =>
  value === true
    ? 'yes'
    : value === false
      ? 'no'
      : Array.isArray(value)
        ? value.join(', ')
        : typeof value === 'string' || typeof value === 'number'
          ? String(value)
          : JSON.stringify(value);

function Told({
  title,
  tone,
  lines,
  onGo,
}: {
  title: string;
  tone: 'bad' | 'doubt';
  lines: { variable: string; text: string }[];
  onGo: (variable: string) => void;
}) {
  if (lines.length === 0) return null;
  return (
    <section className="told">
      <h3 className={tone}>
        {title} <span className="muted small">{lines.length}</span>
      </h3>
      {lines.map((line, i) => (
        <p key={i}>
          <button
            type="button"
            className="plain-link"
            onClick={() => {
              onGo(line.variable);
            }}
          >
            <code>{line.variable}</code>
          </button>{' '}
          {line.text}
        </p>
      ))}
    </section>
  );
}
