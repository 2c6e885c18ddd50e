import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Alert, Button, Progress, Radio, Select, Switch, Table } from 'antd';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useMay, useStudy } from '../../ui/study';
import { useMoments } from '../../ui/moments';
import { Empty, messageOf } from '../../ui/states';
import { useJoins, useOutsides } from '../combine/outside';
import { DATA, choicesOfSets, useChosenSet } from '../dataSets';
import { GoneSet } from '../GoneSet';
import './handover.css';
import { t } from '../../texts/texts';

type Job = Schemas['JobOut'];
type Options = Schemas['ExtractOptions'];

const FORMATS: { value: Options['format']; label: string; text: string }[] = [
  {
    value: 'xlsx',
    label: t('handover.spreadsheetXlsx'),
    text: t('handover.sheetInterviewsOneEach'),
  },
  { value: 'csv', label: t('handover.plainTextCsv'), text: t('handover.oneFileEachTable') },
  {
    value: 'sav',
    label: t('handover.labelledDataSav'),
    text: t('handover.variableValueLabelsKinds'),
  },
  { value: 'script', label: t('handover.script'), text: t('handover.scriptRepeats') },
];
const START: Options = { format: 'xlsx', headings: 'names', cells: 'codes', language: 'en', masked: true };

const size = (bytes: unknown): string =>
  typeof bytes === 'number'
    ? bytes < 1e6
      ? t('handover.kb', { bytes: Math.max(1, Math.round(bytes / 1000)) })
      : t('handover.mb', { bytes: (bytes / 1e6).toFixed(1) })
    : '';

/** Extracts: what to hand over, made in the background. */
export default function HandOver() {
  const { ago } = useMoments();
  const study = useStudy();
  const { sets, chosen } = useChosenSet();
  const may = useMay();
  const queries = useQueryClient();
  const [params, setParams] = useSearchParams();
  const [options, setOptions] = useState<Options>(
    params.get('format') === 'script' ? { ...START, format: 'script' } : START,
  );
  const [cleaned, setCleaned] = useState(true);
  const jobs = useQuery({
    queryKey: ['study', study.id, 'jobs'],
    queryFn: () =>
      ask(
        api.GET('/api/studies/{study_id}/jobs', {
          params: { path: { study_id: study.id }, query: { kind: 'extract' } },
        }),
      ),
    refetchInterval: (query) =>
      query.state.data?.some((j) => j.state === 'waiting' || j.state === 'running') === true ? 600 : false,
  });
  const refresh = () => queries.invalidateQueries({ queryKey: ['study', study.id, 'jobs'] });
  const order = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/data-sets/{data_set_id}/extracts', {
          params: { path: { data_set_id: chosen?.id ?? 0 } },
          body: { options, cleaned },
        }),
      ),
    onSuccess: refresh,
  });
  const cancel = useMutation({
    mutationFn: (job: number) => ask(api.POST('/api/jobs/{job_id}/cancel', { params: { path: { job_id: job } } })),
    onSuccess: refresh,
  });
  if (study.questionnaires.length === 0 || study.interviews === 0)
    return (
      <div className="page">
        <div className="page-head">
          <h1>{t('common.handOver')}</h1>
        </div>
        <div className="sheet">
          <Empty title={t('handover.nothingHandOverYet')}>{t('handover.extractsMadeInterviewsArrived')}</Empty>
        </div>
      </div>
    );
  return (
    <div className="page">
      <div className="page-head">
        <h1>{t('common.handOver')}</h1>
        <span className="muted">{t('common.interviewCount', { count: study.interviews })}</span>
      </div>
      <GoneSet />
      <div className="columns narrow-left">
        <section className="sheet pad">
          <h2>{t('handover.extract')}</h2>
          <div className="extract-form">
            <span className="detail-label">{t('handover.dataSet')}</span>
            <Select
              aria-label={t('handover.dataSet')}
              value={chosen === undefined ? undefined : String(chosen.id)}
              options={choicesOfSets(sets)}
              onChange={(one) => {
                setParams({ [DATA]: one });
              }}
            />
            {chosen && (
              <>
                <span className="muted small">{t('handover.setRevision', { revision: chosen.revision })}</span>
                <Link className="small" to={`/studies/${String(study.id)}/combine?set=${String(chosen.id)}`}>
                  {t('handover.seeRecipe')}
                </Link>
              </>
            )}
            <Radio.Group
              className="formats"
              value={options.format}
              onChange={(event) => {
                setOptions({ ...options, format: event.target.value as Options['format'] });
              }}
            >
              {FORMATS.map((f) => (
                <Radio
                  key={f.value}
                  value={f.value}
                  disabled={f.value === 'script' && chosen?.questionnaire_id == null}
                >
                  {f.label}
                  <span className="muted small">{f.text}</span>
                </Radio>
              ))}
            </Radio.Group>
            {options.format !== 'sav' && options.format !== 'script' && (
              <>
                <span className="detail-label">{t('handover.headings')}</span>
                <Radio.Group
                  optionType="button"
                  value={options.headings}
                  options={[
                    { value: 'names', label: t('handover.variables') },
                    { value: 'labels', label: t('handover.wordings') },
                  ]}
                  onChange={(event) => {
                    setOptions({ ...options, headings: event.target.value as Options['headings'] });
                  }}
                />
                <span className="detail-label">{t('common.cells')}</span>
                <Radio.Group
                  optionType="button"
                  value={options.cells}
                  options={[
                    { value: 'codes', label: t('handover.codes') },
                    { value: 'labels', label: t('handover.labels') },
                  ]}
                  onChange={(event) => {
                    setOptions({ ...options, cells: event.target.value as Options['cells'] });
                  }}
                />
              </>
            )}
            {options.format !== 'script' && (
              <label className="row">
                <Switch size="small" checked={cleaned} onChange={setCleaned} />{' '}
                {cleaned ? t('handover.cleanedByPlan') : t('handover.rawAsHandedIn')}
              </label>
            )}
            <label className="row">
              <Switch
                size="small"
                checked={!options.masked}
                disabled={!may('sensitive.read')}
                onChange={(on) => {
                  setOptions({ ...options, masked: !on });
                }}
              />{' '}
              {t('handover.sensitiveVariables')}
            </label>
            {cleaned &&
              options.format !== 'script' &&
              [...new Set(chosen?.recipe.sources.map((one) => one.questionnaire))].map((one) => (
                <KeptBack key={one} id={one} />
              ))}
            {order.error && <Alert type="error" showIcon title={messageOf(order.error)} />}
            {may('extract.make') && (
              <Button
                type="primary"
                loading={order.isPending}
                onClick={() => {
                  if (!order.isPending && chosen !== undefined) order.mutate();
                }}
              >
                {t('handover.makeExtract')}
              </Button>
            )}
          </div>
        </section>
        <section className="sheet">
          <h2 className="sheet-head">{t('handover.madeSoFar')}</h2>
          <Table<Job>
            size="small"
            rowKey="id"
            pagination={false}
            dataSource={jobs.data ?? []}
            locale={{ emptyText: <Empty title={t('handover.noExtractYet')} /> }}
            columns={[
              { title: t('handover.file'), render: (_, job) => <JobFile job={job} /> },
              { title: t('handover.holds'), render: (_, job) => <Holds job={job} /> },
              { title: t('handover.size'), align: 'right', width: 80, render: (_, job) => size(job.result?.bytes) },
              {
                title: t('common.made'),
                width: 190,
                render: (_, job) => (
                  <span className="muted small">
                    {t('common.madeBy', { when: ago(job.created_at), who: job.created_by })}
                  </span>
                ),
              },
              {
                title: '',
                width: 80,
                align: 'right',
                render: (_, job) =>
                  (job.state === 'waiting' || job.state === 'running') && (
                    <Button
                      size="small"
                      type="text"
                      onClick={() => {
                        cancel.mutate(job.id);
                      }}
                    >
                      {t('common.cancel')}
                    </Button>
                  ),
              },
            ]}
          />
        </section>
      </div>
    </div>
  );
}

/** What is joined from tables whose card says that it must not be handed over. */
function KeptBack({ id }: { id: number }) {
  const tables = useOutsides(id);
  const joins = useJoins(id);
  const held = (tables.data ?? []).filter((table) => table.card.handed_over === 'no');
  const out = held.flatMap((table) => {
    const variables = joins.data?.find((one) => one.outside_id === table.id)?.report?.variables ?? [];
    return variables.length === 0 ? [] : [{ table, variables }];
  });
  return out.map(({ table, variables }) => (
    <p className="small doubt" key={table.id}>
      {t('handover.keptBack', { table: table.name, variables: variables.join(', '), terms: table.card.terms })}
    </p>
  ));
}

function JobFile({ job }: { job: Job }) {
  if (job.state === 'done')
    return (
      <a href={`/api/jobs/${String(job.id)}/file`} download>
        {typeof job.result?.name === 'string' ? job.result.name : t('handover.file2')}
      </a>
    );
  if (job.state === 'failed') return <span className="bad">{job.problem}</span>;
  if (job.state === 'cancelled') return <span className="muted">{t('handover.cancelled')}</span>;
  return (
    <span className="job-progress">
      <Progress
        aria-label={t('common.howFar')}
        percent={Math.round(100 * job.progress)}
        size="small"
        showInfo={false}
      />
      <span className="muted small">{job.saying || t('common.waiting')}</span>
    </span>
  );
}

/** What a file holds, and what of it its format could not hold as it is. */
function Holds({ job }: { job: Job }) {
  const notes = Array.isArray(job.result?.notes) ? (job.result.notes as string[]) : [];
  return (
    <>
      <span className="muted small">{holds(job)}</span>
      {notes.map((note) => (
        <div className="doubt small" key={note}>
          {note}
        </div>
      ))}
    </>
  );
}

function holds(job: Job): string {
  const rows =
    typeof job.result?.rows === 'object' && job.result.rows !== null
      ? Object.entries(job.result.rows as Record<string, number>)
          .map(([t, n]) => `${String(n)} ${t}`)
          .join(', ')
      : '';
  const options = job.order.options as Options | undefined;
  const back = job.result?.kept_back;
  const words = [
    typeof job.result?.data_set === 'string'
      ? t('handover.ofSet', { title: job.result.data_set, revision: Number(job.result.revision) })
      : '',
    rows,
    Array.isArray(back) && back.length > 0 ? t('handover.without', { tables: back.join(', ') }) : '',
    job.order.cleaned === true ? t('handover.cleaned') : t('handover.raw'),
    options?.masked === false ? t('handover.sensitiveIncluded') : '',
  ];
  return words.filter((w) => w !== '').join(' · ');
}
