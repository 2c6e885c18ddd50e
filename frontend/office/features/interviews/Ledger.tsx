import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { App, Button, Pagination, Table } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { api, ask, sendFile, type Schemas } from '../../../shared/api/client';
import { Sentence, Word } from '../../ui/Sentence';
import { useStudy } from '../../ui/StudyFrame';
import { useMoments } from '../../ui/moments';
import { Empty, Loaded, SHAPES, Shape, messageOf } from '../../ui/states';
import { useMay } from '../session/session';
import { useDecide } from './decisions';
import { SendBack } from './SendBack';
import './interviews.css';

type Line = Schemas['LedgerLine'];
type Findings = '' | 'must' | 'should' | 'none' | 'differs' | 'not_laid_out' | 'waiting' | 'flagged';
type Sort = 'arrived' | 'started' | 'minutes' | 'findings' | 'enumerator' | 'number';

const PAGE = 50;
const FINDINGS: { value: Findings | 'any'; label: string }[] = [
  { value: 'any', label: 'are as they are' },
  { value: 'must', label: 'break a hard check' },
  { value: 'should', label: 'have a soft finding' },
  { value: 'none', label: 'have no finding' },
  { value: 'differs', label: 'differ from the device' },
  { value: 'waiting', label: 'have a revision that waits' },
  { value: 'not_laid_out', label: 'are not in the data set' },
  { value: 'flagged', label: 'have doubtful moments or texts' },
];
const SORTS: { value: Sort; label: string }[] = [
  { value: 'arrived', label: 'newest arrival first' },
  { value: 'number', label: 'highest number first' },
  { value: 'started', label: 'latest start first' },
  { value: 'minutes', label: 'longest first' },
  { value: 'findings', label: 'most findings first' },
  { value: 'enumerator', label: 'by enumerator' },
];

/** Every interview as it arrived. */
export default function Ledger() {
  const { dayAndTime } = useMoments();
  const study = useStudy();
  const may = useMay();
  const navigate = useNavigate();
  const [params, setParams] = useSearchParams();
  const page = Number(params.get('page') ?? '1');
  const sort = SORTS.find((s) => s.value === params.get('sort'))?.value ?? 'arrived';
  const query = {
    state: params.get('state') ?? '',
    enumerator: params.get('enumerator') ?? '',
    findings: (FINDINGS.find((f) => f.value === params.get('findings') && f.value !== 'any')?.value ?? '') as Findings,
    unread: params.get('unread') === '1',
    practice: params.get('practice') === '1',
    keys: params.get('keys') ?? '',
    figure: params.get('figure') ?? '',
    check: params.get('check') ?? '',
    sort,
    descending: sort !== 'enumerator',
    offset: (page - 1) * PAGE,
    limit: PAGE,
  };
  const ledger = useQuery({
    queryKey: ['study', study.id, 'ledger', query],
    queryFn: () =>
      ask(api.GET('/api/studies/{study_id}/interviews', { params: { path: { study_id: study.id }, query } })),
    placeholderData: keepPreviousData,
    refetchInterval: 10_000,
  });
  const set = (name: string, value: string) => {
    setParams((before) => {
      const now = new URLSearchParams(before);
      if (value === '' || value === 'any') now.delete(name);
      else now.set(name, value);
      if (name !== 'page') now.delete('page');
      return now;
    });
  };
  const lines = ledger.data?.lines ?? [];
  const [at, setAt] = useState(0);
  const here = Math.min(at, lines.length - 1);
  const decide = useDecide(study.id);
  const [sendingBack, setSendingBack] = useState<Line | null>(null);
  const open = (line: Line | undefined) => {
    if (line) void navigate(`/studies/${String(study.id)}/interviews/${String(line.id)}`);
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
      const line = lines[here];
      if (event.key === 'j' || event.key === 'ArrowDown') setAt(Math.min(here + 1, lines.length - 1));
      else if (event.key === 'k' || event.key === 'ArrowUp') setAt(Math.max(here - 1, 0));
      else if (event.key === 'Enter') open(line);
      else if (event.key === 'a' && line && may('interview.review')) decide.mutate({ id: line.id, state: 'accepted' });
      else if (event.key === 'b' && line && may('interview.review')) setSendingBack(line);
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', press);
    return () => {
      window.removeEventListener('keydown', press);
    };
  });

  const narrowed =
    query.figure !== ''
      ? 'behind a figure'
      : query.check !== ''
        ? 'that break one check'
        : query.keys !== ''
          ? `named ${query.keys.length > 30 ? 'here' : query.keys}`
          : '';
  const filtered =
    narrowed !== '' ||
    query.state !== '' ||
    query.enumerator !== '' ||
    query.findings !== '' ||
    query.unread ||
    query.practice;
  return (
    <div className="page with-status">
      <div className="page-head">
        <h1>Interviews</h1>
        {ledger.data && (
          <span className="muted">
            {ledger.data.everything} in all · {ledger.data.unread} unread · {ledger.data.by_state['sent back'] ?? 0}{' '}
            sent back
          </span>
        )}
        <span className="grow" />
        {may('interview.review') && <ReadBundle studyId={study.id} />}
      </div>
      <Sentence
        side={
          filtered ? (
            <button
              type="button"
              className="plain-link"
              onClick={() => {
                setParams({});
              }}
            >
              Show all
            </button>
          ) : undefined
        }
      >
        <span>Interviews</span>
        <Word
          label="Practice"
          value={query.practice ? '1' : 'any'}
          options={[
            { value: 'any', label: 'for real' },
            { value: '1', label: 'in practice' },
          ]}
          onChange={(v) => {
            set('practice', v);
          }}
        />
        <span>by</span>
        <Word
          label="Enumerator"
          value={query.enumerator || 'any'}
          options={[
            { value: 'any', label: 'anyone' },
            ...(ledger.data?.enumerators ?? []).map((n) => ({ value: n, label: n })),
          ]}
          onChange={(v) => {
            set('enumerator', v);
          }}
        />
        <span>that are</span>
        <Word
          label="State"
          value={query.state || 'any'}
          options={[
            { value: 'any', label: 'in any state' },
            ...Object.entries(SHAPES).map(([s, { shape }]) => ({ value: s, label: `${shape} ${s}` })),
          ]}
          onChange={(v) => {
            set('state', v);
          }}
        />
        <span>and</span>
        <Word
          label="Findings"
          value={query.findings || 'any'}
          options={FINDINGS}
          onChange={(v) => {
            set('findings', v);
          }}
        />
        <span>,</span>
        <Word
          label="Read or not"
          value={query.unread ? '1' : 'any'}
          options={[
            { value: 'any', label: 'read or not' },
            { value: '1', label: 'unread only' },
          ]}
          onChange={(v) => {
            set('unread', v);
          }}
        />
        {narrowed !== '' && (
          <span>
            , <b>{narrowed}</b>
          </span>
        )}
        <span>,</span>
        <Word
          label="Order"
          value={sort}
          options={SORTS}
          onChange={(v) => {
            set('sort', v);
          }}
        />
        <span className="muted">· {ledger.data?.total ?? '…'}</span>
      </Sentence>
      <Loaded query={ledger}>
        {(data) =>
          data.lines.length === 0 ? (
            <div className="sheet">
              {filtered ? (
                <Empty
                  title="No interview is like that."
                  action={
                    <Button
                      onClick={() => {
                        setParams({});
                      }}
                    >
                      Show all
                    </Button>
                  }
                />
              ) : (
                <Empty title="No interviews yet.">They appear here as phones hand them in.</Empty>
              )}
            </div>
          ) : (
            <>
              <div className="sheet">
                <Table<Line>
                  size="small"
                  rowKey="id"
                  pagination={false}
                  dataSource={data.lines}
                  rowClassName={(line, i) =>
                    `${i === here ? 'here-row' : ''} ${line.unread ? 'unread-row' : ''} link-row`
                  }
                  onRow={(line, i) => ({
                    onClick: (event) => {
                      // The link itself goes where it leads, also into a new tab.
                      if (event.target instanceof Element && event.target.closest('a') !== null) return;
                      setAt(i ?? 0);
                      open(line);
                    },
                  })}
                  columns={[
                    { title: '', width: 34, render: (_, l) => <Shape state={l.state} /> },
                    {
                      title: 'Interview',
                      width: 84,
                      render: (_, l) => (
                        <Link className="mono" to={`/studies/${String(study.id)}/interviews/${String(l.id)}`}>
                          {l.key}
                        </Link>
                      ),
                    },
                    { title: 'Enumerator', dataIndex: 'enumerator', width: 140 },
                    { title: 'Device', dataIndex: 'device', width: 100, className: 'muted' },
                    {
                      title: 'Started',
                      width: 150,
                      render: (_, l) => (l.started_at == null ? '–' : dayAndTime(l.started_at)),
                    },
                    {
                      title: 'Minutes',
                      width: 74,
                      align: 'right',
                      render: (_, l) => (l.minutes == null ? '–' : Math.round(l.minutes)),
                    },
                    { title: 'Release', width: 66, align: 'right', render: (_, l) => l.release ?? '–' },
                    {
                      title: 'Revision',
                      width: 72,
                      align: 'right',
                      render: (_, l) =>
                        l.revisions === 1 ? (
                          ''
                        ) : (
                          <span className={l.waiting ? 'doubt' : ''}>
                            {l.revisions}
                            {l.waiting ? ' ?' : ''}
                          </span>
                        ),
                    },
                    { title: 'Findings', ellipsis: true, render: (_, l) => <FindingCell line={l} /> },
                    { title: 'State', width: 90, dataIndex: 'state', className: 'muted' },
                  ]}
                />
              </div>
              {data.total > PAGE && (
                <Pagination
                  style={{ marginTop: 12 }}
                  align="end"
                  current={page}
                  pageSize={PAGE}
                  total={data.total}
                  showSizeChanger={false}
                  showTotal={(n, [a, b]) => `${String(a)}–${String(b)} of ${String(n)}`}
                  onChange={(p) => {
                    set('page', String(p));
                  }}
                />
              )}
            </>
          )
        }
      </Loaded>
      <footer className="status">
        {Object.entries(SHAPES).map(([state]) => (
          <span key={state}>
            <Shape state={state} /> {state}
          </span>
        ))}
        <span className="grow" />
        <span>J K move · Enter read{may('interview.review') ? ' · A accept · B send back' : ''}</span>
      </footer>
      {sendingBack && (
        <SendBack
          line={sendingBack}
          onClose={() => {
            setSendingBack(null);
          }}
          onSend={(remark) => {
            decide.mutate({ id: sendingBack.id, state: 'sent back', remark });
            setSendingBack(null);
          }}
        />
      )}
    </div>
  );
}

function FindingCell({ line }: { line: Line }) {
  const more = line.hard_findings + line.soft_findings - 1;
  if (line.problem !== '') return <span className="bad">not in the data set: {line.finding}</span>;
  if (line.waiting) return <span className="doubt">a revision waits for a decision</span>;
  if (line.differs) return <span className="bad">the office computes otherwise than the device</span>;
  if (line.finding === '') return null;
  return (
    <span className={line.hard_findings > 0 ? 'bad' : 'doubt'}>
      {line.finding}
      {more > 0 ? ` · ${String(more)} more` : ''}
    </span>
  );
}

/** Reads in what a phone saved to a file because it could not hand in. */
function ReadBundle({ studyId }: { studyId: number }) {
  const input = useRef<HTMLInputElement>(null);
  const queries = useQueryClient();
  const { modal } = App.useApp();
  const read = useMutation({
    mutationFn: (file: File) => sendFile<Schemas['BundleOut']>(`/api/studies/${String(studyId)}/bundles`, file),
    onSuccess: (found) => {
      void queries.invalidateQueries({ queryKey: ['study', studyId] });
      modal.success({
        title: `Read in from ${found.device}`,
        content: `${String(found.arrived)} interviews arrived, ${String(found.revisions)} came as revisions, ${String(found.known)} were here already; ${String(found.files)} files.${found.not_laid_out > 0 ? ` ${String(found.not_laid_out)} could not be laid out: they say why.` : ''}`,
      });
    },
    onError: (error) => {
      modal.error({ title: 'The file was not read in', content: messageOf(error) });
    },
  });
  return (
    <>
      <Button
        loading={read.isPending}
        title="For a phone that cannot hand in: Me, Save all interviews to a file"
        onClick={() => {
          input.current?.click();
        }}
      >
        Read in a phone’s file …
      </Button>
      <input
        ref={input}
        type="file"
        hidden
        accept=".zip"
        aria-label="A phone’s file"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) read.mutate(file);
          event.target.value = '';
        }}
      />
    </>
  );
}
