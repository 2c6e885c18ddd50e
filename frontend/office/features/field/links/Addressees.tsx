// Whom a personal link is sent to: brought in, written to, reminded; who has answered.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Alert, App, Button, Input, Progress, Table } from 'antd';
import { useState } from 'react';
import { Link as RouterLink } from 'react-router';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { useMoments } from '../../../ui/moments';
import { RowsFile } from '../../../ui/RowsFile';
import { Loaded } from '../../../ui/states';
import { useFieldChange } from '../phones';
import { DOINGS, PAGE, useAddressees, type Addressee, type Doing, type Link } from './links';

const SHOWN: Doing[] = ['not written to', 'waiting', 'begun', 'answered', 'not reached', 'withdrawn'];

export function Addressees({ studyId, link }: { studyId: number; link: Link }) {
  const { ago } = useMoments();
  const { message, modal } = App.useApp();
  const queries = useQueryClient();
  const [find, setFind] = useState('');
  const [doing, setDoing] = useState<Doing | ''>('');
  const [page, setPage] = useState(1);
  const [fromFile, setFromFile] = useState(false);
  const [job, setJob] = useState<number | null>(null);
  const addressees = useAddressees(studyId, link.id, { find, doing, page });
  const write = useMutation({
    mutationFn: (about: 'invitation' | 'reminder') =>
      ask(
        api.POST('/api/links/{link_id}/letters', {
          params: { path: { link_id: link.id } },
          body: { about, ids: null },
        }),
      ),
    onSuccess: (ordered) => {
      setJob(ordered.id);
    },
  });
  const withdraw = useFieldChange(studyId, ({ id, back }: { id: number; back: boolean }) => {
    const params = { path: { link_id: link.id, addressee_id: id } };
    return ask(
      back
        ? api.DELETE('/api/links/{link_id}/addressees/{addressee_id}/withdrawal', { params })
        : api.POST('/api/links/{link_id}/addressees/{addressee_id}/withdrawal', { params }),
    );
  });
  const counts = addressees.data?.counts;
  const count = (name: Doing) => counts?.[name] ?? 0;
  const all = SHOWN.reduce((sum, name) => sum + count(name), 0);
  const unwritten = count('not written to') + count('not reached');
  const silent = count('waiting') + count('begun');
  const send = (about: 'invitation' | 'reminder', people: number) => {
    void modal.confirm({
      title:
        about === 'invitation' ? t('links.writeSure', { count: people }) : t('links.remindSure', { count: people }),
      content: about === 'invitation' ? t('links.writeMeans') : t('links.remindMeans'),
      okText: t('links.sendLetters'),
      onOk: () => write.mutateAsync(about),
    });
  };
  return (
    <section>
      <div className="page-head section-head">
        <h2>{t('links.addressees')}</h2>
        <span className="grow" />
        <Button
          onClick={() => {
            setFromFile(true);
          }}
        >
          {t('links.fromFile')}
        </Button>
        <Button
          type={unwritten > 0 ? 'primary' : 'default'}
          disabled={unwritten === 0 || write.isPending}
          onClick={() => {
            send('invitation', unwritten);
          }}
        >
          {t('links.write', { count: unwritten })}
        </Button>
        <Button
          disabled={silent === 0 || write.isPending}
          onClick={() => {
            send('reminder', silent);
          }}
        >
          {t('links.remind', { count: silent })}
        </Button>
      </div>
      {write.error && <Alert type="error" showIcon title={write.error.message} />}
      {job !== null && <Sending studyId={studyId} job={job} />}
      {all === 0 ? (
        <p className="muted">{t('links.nobodyYet')}</p>
      ) : (
        <>
          <div className="row wrap-row" role="group" aria-label={t('links.doing')}>
            <Input.Search
              allowClear
              className="find-addressee"
              placeholder={t('links.findAddressee')}
              aria-label={t('links.findAddressee')}
              onSearch={(text) => {
                setFind(text);
                setPage(1);
              }}
            />
            {(['', ...SHOWN.filter((name) => name === doing || count(name) > 0)] as const).map((name) => (
              <Button
                key={name}
                size="small"
                type={doing === name ? 'primary' : 'text'}
                aria-pressed={doing === name}
                onClick={() => {
                  setDoing(name);
                  setPage(1);
                }}
              >
                {name === '' ? t('links.everybody') : DOINGS[name]} {name === '' ? all : count(name)}
              </Button>
            ))}
          </div>
          <Loaded query={addressees}>
            {(found) => (
              <Table<Addressee>
                size="small"
                rowKey="id"
                dataSource={found.lines}
                pagination={{
                  current: page,
                  pageSize: PAGE,
                  total: found.total,
                  hideOnSinglePage: true,
                  showSizeChanger: false,
                  onChange: setPage,
                }}
                columns={[
                  { title: t('common.name'), dataIndex: 'name' },
                  { title: t('links.email'), dataIndex: 'email' },
                  {
                    title: t('links.doing'),
                    render: (_, to) => (
                      <span className={to.doing === 'not reached' ? 'doubt' : ''}>
                        {DOINGS[to.doing]}
                        {to.trouble !== '' && `: ${to.trouble}`}
                      </span>
                    ),
                  },
                  {
                    title: t('links.when'),
                    render: (_, to) => (
                      <>
                        {to.interview_id != null && to.answered_at != null ? (
                          <RouterLink to={`/studies/${String(studyId)}/interviews/${String(to.interview_id)}`}>
                            {ago(to.answered_at)}
                          </RouterLink>
                        ) : (
                          to.sent_at != null && ago(to.sent_at)
                        )}
                        {to.reminders > 0 && (
                          <span className="muted"> · {t('links.reminded', { count: to.reminders })}</span>
                        )}
                      </>
                    ),
                  },
                  {
                    title: '',
                    align: 'end',
                    render: (_, to) => (
                      <>
                        <Button
                          size="small"
                          type="text"
                          onClick={() => {
                            void navigator.clipboard
                              .writeText(to.address)
                              .then(() => message.success(t('links.copied')));
                          }}
                        >
                          {t('links.copy')}
                        </Button>
                        {to.doing !== 'answered' && (
                          <Button
                            size="small"
                            type="text"
                            onClick={() => {
                              withdraw.mutate({ id: to.id, back: to.doing === 'withdrawn' });
                            }}
                          >
                            {to.doing === 'withdrawn' ? t('links.takeBackIn') : t('links.leaveOut')}
                          </Button>
                        )}
                      </>
                    ),
                  },
                ]}
              />
            )}
          </Loaded>
        </>
      )}
      {fromFile && (
        <RowsFile<Schemas['AddresseeRow']>
          title={t('links.fileTitle')}
          means={t('links.fileMeans')}
          address={`/api/links/${String(link.id)}/addressees/file`}
          columns={[
            { title: t('common.name'), dataIndex: 'name' },
            { title: t('links.email'), dataIndex: 'email' },
            { title: t('links.language'), dataIndex: 'language' },
          ]}
          onKept={(kept) => {
            void queries.invalidateQueries({ queryKey: ['study', studyId] });
            void message.success(t('people.broughtIn', { count: kept }));
          }}
          onClose={() => {
            setFromFile(false);
          }}
        />
      )}
    </section>
  );
}

/** Letters on their way: how many, and what became of them. */
function Sending({ studyId, job }: { studyId: number; job: number }) {
  const queries = useQueryClient();
  const path = { job_id: job };
  const shown = useQuery({
    queryKey: ['job', job],
    queryFn: async () => {
      const now = await ask(api.GET('/api/jobs/{job_id}', { params: { path } }));
      void queries.invalidateQueries({ queryKey: ['study', studyId, 'addressees'] });
      return now;
    },
    refetchInterval: (query) => (['waiting', 'running'].includes(query.state.data?.state ?? 'waiting') ? 500 : false),
  });
  const stop = useMutation({
    mutationFn: () => ask(api.POST('/api/jobs/{job_id}/cancel', { params: { path } })),
    onSuccess: () => shown.refetch(),
  });
  const now = shown.data;
  if (now === undefined) return null;
  if (now.state === 'failed') return <Alert type="error" showIcon title={now.problem} />;
  if (now.state === 'cancelled') return <Alert type="info" showIcon title={t('links.lettersStopped')} />;
  if (now.state !== 'done')
    return (
      <div className="under-way" role="status">
        <Progress aria-label={t('common.howFar')} percent={Math.round(100 * now.progress)} />
        <span className="muted">{now.saying || t('common.waiting')}</span>
        <Button
          size="small"
          onClick={() => {
            stop.mutate();
          }}
        >
          {t('links.stop')}
        </Button>
      </div>
    );
  const { sent = 0, failed = 0 } = (now.result ?? {}) as { sent?: number; failed?: number };
  return (
    <Alert
      type={failed > 0 ? 'warning' : 'success'}
      showIcon
      title={t('links.lettersSent', { count: sent })}
      description={failed > 0 ? t('links.lettersFailed', { count: failed }) : undefined}
    />
  );
}
