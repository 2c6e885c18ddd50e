import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Alert, Button, Progress, Radio, Switch, Table } from 'antd';
import { useState } from 'react';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useQuestionnaireId, useStudy } from '../../ui/StudyFrame';
import { useMoments } from '../../ui/moments';
import { Empty, messageOf } from '../../ui/states';
import { useMay } from '../session/session';
import './handover.css';

type Job = Schemas['JobOut'];
type Options = Schemas['ExtractOptions'];

const FORMATS: { value: Options['format']; label: string; text: string }[] = [
  {
    value: 'xlsx',
    label: 'Spreadsheet (.xlsx)',
    text: 'a sheet for the interviews, one for each roster, and a codebook',
  },
  { value: 'csv', label: 'Plain text (.csv)', text: 'one file for each table, in a zip' },
  {
    value: 'sav',
    label: 'Labelled data (.sav)',
    text: 'with variable and value labels and kinds of missing, in a zip',
  },
];
const START: Options = { format: 'xlsx', headings: 'names', cells: 'codes', language: 'en', masked: true };

const size = (bytes: unknown): string =>
  typeof bytes === 'number'
    ? bytes < 1e6
      ? `${String(Math.max(1, Math.round(bytes / 1000)))} kB`
      : `${(bytes / 1e6).toFixed(1)} MB`
    : '';

/** Extracts: what to hand over, made in the background. */
export default function HandOver() {
  const { ago } = useMoments();
  const study = useStudy();
  const id = useQuestionnaireId();
  const may = useMay();
  const queries = useQueryClient();
  const [options, setOptions] = useState(START);
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
        api.POST('/api/questionnaires/{questionnaire_id}/extracts', {
          params: { path: { questionnaire_id: id ?? 0 } },
          body: { options, cleaned },
        }),
      ),
    onSuccess: refresh,
  });
  const cancel = useMutation({
    mutationFn: (job: number) => ask(api.POST('/api/jobs/{job_id}/cancel', { params: { path: { job_id: job } } })),
    onSuccess: refresh,
  });
  if (id === null || study.interviews === 0)
    return (
      <div className="page">
        <div className="page-head">
          <h1>Hand over</h1>
        </div>
        <div className="sheet">
          <Empty title="Nothing to hand over yet.">Extracts are made of the interviews that arrived.</Empty>
        </div>
      </div>
    );
  return (
    <div className="page">
      <div className="page-head">
        <h1>Hand over</h1>
        <span className="muted">{study.interviews} interviews</span>
      </div>
      <div className="columns narrow-left">
        <section className="sheet pad">
          <h2>An extract</h2>
          <div className="extract-form">
            <Radio.Group
              className="formats"
              value={options.format}
              onChange={(event) => {
                setOptions({ ...options, format: event.target.value as Options['format'] });
              }}
            >
              {FORMATS.map((f) => (
                <Radio key={f.value} value={f.value}>
                  {f.label}
                  <span className="muted small">{f.text}</span>
                </Radio>
              ))}
            </Radio.Group>
            {options.format !== 'sav' && (
              <>
                <span className="detail-label">Headings</span>
                <Radio.Group
                  optionType="button"
                  value={options.headings}
                  options={[
                    { value: 'names', label: 'Variables' },
                    { value: 'labels', label: 'Wordings' },
                  ]}
                  onChange={(event) => {
                    setOptions({ ...options, headings: event.target.value as Options['headings'] });
                  }}
                />
                <span className="detail-label">Cells</span>
                <Radio.Group
                  optionType="button"
                  value={options.cells}
                  options={[
                    { value: 'codes', label: 'Codes' },
                    { value: 'labels', label: 'Labels' },
                  ]}
                  onChange={(event) => {
                    setOptions({ ...options, cells: event.target.value as Options['cells'] });
                  }}
                />
              </>
            )}
            <label className="row">
              <Switch size="small" checked={cleaned} onChange={setCleaned} /> cleaned by the plan
              {cleaned ? '' : ': no, raw as handed in'}
            </label>
            <label className="row">
              <Switch
                size="small"
                checked={!options.masked}
                disabled={!may('sensitive.read')}
                onChange={(on) => {
                  setOptions({ ...options, masked: !on });
                }}
              />{' '}
              with sensitive variables
            </label>
            {order.error && <Alert type="error" showIcon title={messageOf(order.error)} />}
            {may('extract.make') && (
              <Button
                type="primary"
                loading={order.isPending}
                onClick={() => {
                  if (!order.isPending) order.mutate();
                }}
              >
                Make the extract
              </Button>
            )}
          </div>
        </section>
        <section className="sheet">
          <h2 className="sheet-head">Made so far</h2>
          <Table<Job>
            size="small"
            rowKey="id"
            pagination={false}
            dataSource={jobs.data ?? []}
            locale={{ emptyText: <Empty title="No extract yet." /> }}
            columns={[
              { title: 'File', render: (_, job) => <JobFile job={job} /> },
              { title: 'Holds', render: (_, job) => <span className="muted small">{holds(job)}</span> },
              { title: 'Size', align: 'right', width: 80, render: (_, job) => size(job.result?.bytes) },
              {
                title: 'Made',
                width: 190,
                render: (_, job) => (
                  <span className="muted small">
                    {ago(job.created_at)} by {job.created_by}
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
                      Cancel
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

function JobFile({ job }: { job: Job }) {
  if (job.state === 'done')
    return (
      <a href={`/api/jobs/${String(job.id)}/file`} download>
        {typeof job.result?.name === 'string' ? job.result.name : 'file'}
      </a>
    );
  if (job.state === 'failed') return <span className="bad">{job.problem}</span>;
  if (job.state === 'cancelled') return <span className="muted">cancelled</span>;
  return (
    <span className="job-progress">
      <Progress aria-label="How far" percent={Math.round(100 * job.progress)} size="small" showInfo={false} />
      <span className="muted small">{job.saying || 'waiting'}</span>
    </span>
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
  const words = [
    rows,
    job.order.cleaned === true ? 'cleaned' : 'raw',
    options?.masked === false ? 'sensitive included' : '',
  ];
  return words.filter((w) => w !== '').join(' · ');
}
