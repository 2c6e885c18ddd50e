import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Button, Pagination, Table } from 'antd';
import { useEffect, useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { Sentence, Word } from '../../ui/Sentence';
import { titleOf, useMay, useStudy } from '../../ui/study';
import { useMoments } from '../../ui/moments';
import { Empty, Loaded, SHAPES, Shape, stateWords } from '../../ui/states';
import { ReadBundle } from '../field/ReadBundle';
import { useDecide } from './decisions';
import { FINDINGS, type Findings } from './findings';
import { SendBack } from './SendBack';
import './interviews.css';
import { t } from '../../texts/texts';

type Line = Schemas['LedgerLine'];
type Origin = '' | 'phone' | 'link' | 'paper';
type Sort = 'arrived' | 'started' | 'minutes' | 'findings' | 'enumerator' | 'number';

const PAGE = 50;
const ORIGINS: { value: Origin | 'any'; label: string }[] = [
  { value: 'any', label: t('interviews.anyWay') },
  { value: 'phone', label: t('interviews.fromPhone') },
  { value: 'link', label: t('interviews.throughLink') },
  { value: 'paper', label: t('interviews.onPaper') },
];
const SORTS: { value: Sort; label: string }[] = [
  { value: 'arrived', label: t('interviews.newestArrivalFirst') },
  { value: 'number', label: t('interviews.highestNumberFirst') },
  { value: 'started', label: t('interviews.latestStartFirst') },
  { value: 'minutes', label: t('interviews.longestFirst') },
  { value: 'findings', label: t('interviews.mostFindingsFirst') },
  { value: 'enumerator', label: t('interviews.enumerator') },
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
    questionnaire: study.questionnaires.find((q) => String(q.id) === params.get('questionnaire'))?.id ?? 0,
    state: params.get('state') ?? '',
    enumerator: params.get('enumerator') ?? '',
    findings: (FINDINGS.find((f) => f.value === params.get('findings') && f.value !== 'any')?.value ?? '') as Findings,
    unread: params.get('unread') === '1',
    practice: params.get('practice') === '1',
    origin: (ORIGINS.find((o) => o.value === params.get('origin') && o.value !== 'any')?.value ?? '') as Origin,
    link: Number(params.get('link') ?? '0'),
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
  const several = study.questionnaires.length > 1;
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
      else if (event.key === 'a' && line && may('interview.review'))
        decide.mutate({ id: line.id, version: line.version, state: 'accepted' });
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
      ? t('interviews.behindFigure')
      : query.check !== ''
        ? t('interviews.breakOneCheck')
        : query.link !== 0
          ? t('interviews.throughOneLink')
          : query.keys !== ''
            ? t('interviews.named', { keys: query.keys.length > 30 ? '…' : query.keys })
            : '';
  const filtered =
    narrowed !== '' ||
    query.questionnaire !== 0 ||
    query.state !== '' ||
    query.enumerator !== '' ||
    query.findings !== '' ||
    query.unread ||
    query.origin !== '' ||
    query.practice;
  return (
    <div className="page with-status">
      <div className="page-head">
        <h1>{t('common.interviews')}</h1>
        {ledger.data && (
          <span className="muted">
            {t('interviews.counts', {
              everything: ledger.data.everything,
              unread: ledger.data.unread,
              back: ledger.data.by_state['sent back'] ?? 0,
            })}
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
              {t('interviews.showAll')}
            </button>
          ) : undefined
        }
      >
        <span>{t('common.interviews')}</span>
        <Word
          label={t('interviews.practice')}
          value={query.practice ? '1' : 'any'}
          options={[
            { value: 'any', label: t('interviews.forReal') },
            { value: '1', label: t('interviews.inPractice') },
          ]}
          onChange={(v) => {
            set('practice', v);
          }}
        />
        {several && (
          <>
            <span>{t('interviews.with')}</span>
            <Word
              label={t('common.questionnaire')}
              value={query.questionnaire === 0 ? 'any' : String(query.questionnaire)}
              options={[
                { value: 'any', label: t('interviews.anyQuestionnaire') },
                ...study.questionnaires.map((q) => ({ value: String(q.id), label: q.title })),
              ]}
              onChange={(v) => {
                set('questionnaire', v);
              }}
            />
          </>
        )}
        <span>{t('common.by')}</span>
        <Word
          label={t('common.enumerator')}
          value={query.enumerator || 'any'}
          options={[
            { value: 'any', label: t('interviews.anyone') },
            ...(ledger.data?.enumerators ?? []).map((n) => ({ value: n, label: n })),
          ]}
          onChange={(v) => {
            set('enumerator', v);
          }}
        />
        <Word
          label={t('interviews.way')}
          value={query.origin || 'any'}
          options={ORIGINS}
          onChange={(v) => {
            set('origin', v);
          }}
        />
        <span>{t('interviews.thatAre')}</span>
        <Word
          label={t('interviews.state')}
          value={query.state || 'any'}
          options={[
            { value: 'any', label: t('interviews.anyState') },
            ...Object.entries(SHAPES).map(([s, { shape }]) => ({ value: s, label: `${shape} ${stateWords(s)}` })),
          ]}
          onChange={(v) => {
            set('state', v);
          }}
        />
        <span>{t('interviews.and')}</span>
        <Word
          label={t('common.findings')}
          value={query.findings || 'any'}
          options={FINDINGS}
          onChange={(v) => {
            set('findings', v);
          }}
        />
        <span>,</span>
        <Word
          label={t('interviews.readNot')}
          value={query.unread ? '1' : 'any'}
          options={[
            { value: 'any', label: t('interviews.readNot2') },
            { value: '1', label: t('interviews.unreadOnly') },
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
          label={t('interviews.order')}
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
                  title={t('interviews.noInterviewLike')}
                  action={
                    <Button
                      onClick={() => {
                        setParams({});
                      }}
                    >
                      {t('interviews.showAll')}
                    </Button>
                  }
                />
              ) : (
                <Empty title={t('interviews.noInterviewsYet')}>{t('interviews.theyAppearHerePhones')}</Empty>
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
                      title: t('common.interview'),
                      width: 84,
                      render: (_, l) => (
                        <Link className="mono" to={`/studies/${String(study.id)}/interviews/${String(l.id)}`}>
                          {l.key}
                        </Link>
                      ),
                    },
                    { title: t('common.enumerator'), dataIndex: 'enumerator', width: 140 },
                    { title: t('common.device'), dataIndex: 'device', width: 100, className: 'muted' },
                    {
                      title: t('interviews.started'),
                      width: 150,
                      render: (_, l) => (l.started_at == null ? '–' : dayAndTime(l.started_at)),
                    },
                    {
                      title: t('interviews.minutes'),
                      width: 74,
                      align: 'right',
                      render: (_, l) => (l.minutes == null ? '–' : Math.round(l.minutes)),
                    },
                    ...(several
                      ? [
                          {
                            title: t('common.questionnaire'),
                            width: 150,
                            ellipsis: true,
                            render: (_: unknown, l: Line) => titleOf(study, l.questionnaire_id),
                          },
                        ]
                      : []),
                    { title: t('common.release'), width: 66, align: 'right', render: (_, l) => l.release ?? '–' },
                    {
                      title: t('interviews.revision'),
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
                    { title: t('common.findings'), ellipsis: true, render: (_, l) => <FindingCell line={l} /> },
                    { title: t('interviews.state'), width: 90, dataIndex: 'state', className: 'muted' },
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
                  showTotal={(n, [a, b]) => t('interviews.rangeOf', { from: a, to: b, all: n })}
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
        <span>
          {t('interviews.jKMoveEnter')}
          {may('interview.review') && ` · ${t('interviews.reviewKeys')}`}
        </span>
      </footer>
      {sendingBack && (
        <SendBack
          line={sendingBack}
          onClose={() => {
            setSendingBack(null);
          }}
          onSend={(remark) => {
            decide.mutate({ id: sendingBack.id, version: sendingBack.version, state: 'sent back', remark });
            setSendingBack(null);
          }}
        />
      )}
    </div>
  );
}

function FindingCell({ line }: { line: Line }) {
  const more = line.hard_findings + line.soft_findings - 1;
  if (line.problem !== '')
    return <span className="bad">{t('interviews.notInDataSetBecause', { finding: line.finding })}</span>;
  if (line.waiting) return <span className="doubt">{t('interviews.revisionWaitsDecision')}</span>;
  if (line.differs) return <span className="bad">{t('interviews.officeComputesOtherwiseThan')}</span>;
  if (line.finding === '') return null;
  return (
    <span className={line.hard_findings > 0 ? 'bad' : 'doubt'}>
      {line.finding}
      {more > 0 && ` · ${t('interviews.more', { more })}`}
    </span>
  );
}
