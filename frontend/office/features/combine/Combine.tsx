import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Alert, App, Button, Input, Select, Table, Upload } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, ask, sendFile, type Schemas } from '../../../shared/api/client';
import { useQuestionnaireId, useStudy } from '../../ui/StudyFrame';
import { Empty, Loaded, messageOf } from '../../ui/states';
import { useVariables, variableChoices } from '../data';
import { useMay } from '../session/session';
import './combine.css';

type Outside = Schemas['OutsideOut'];
type Report = Schemas['Report'];

/** Outside tables and how they join the interviews. */
export default function Combine() {
  const id = useQuestionnaireId();
  return id === null ? (
    <div className="page">
      <div className="sheet">
        <Empty title="Nothing to combine yet." />
      </div>
    </div>
  ) : (
    <Tables id={id} />
  );
}

function Tables({ id }: { id: number }) {
  const may = useMay();
  const queries = useQueryClient();
  const { message } = App.useApp();
  const [chosen, setChosen] = useState<number | null>(null);
  const tables = useQuery({
    queryKey: ['data', id, 'outside'],
    queryFn: () =>
      ask(api.GET('/api/questionnaires/{questionnaire_id}/outside', { params: { path: { questionnaire_id: id } } })),
  });
  const bring = useMutation({
    mutationFn: (file: File) =>
      sendFile<Outside>(`/api/questionnaires/${String(id)}/outside?name=${encodeURIComponent(file.name)}`, file),
    onSuccess: (made) => {
      setChosen(made.id);
      void queries.invalidateQueries({ queryKey: ['data', id, 'outside'] });
      void message.success(`${made.file_name}: ${String(made.rows)} rows, ${String(made.columns.length)} columns`);
    },
  });
  const upload = may('combine.write') && (
    <Upload
      accept=".csv,.xlsx,.tsv"
      showUploadList={false}
      beforeUpload={(file) => {
        if (!bring.isPending) bring.mutate(file);
        return false;
      }}
    >
      <Button type="primary" loading={bring.isPending}>
        Bring in a table …
      </Button>
    </Upload>
  );
  return (
    <div className="page">
      <div className="page-head">
        <h1>Combine</h1>
        <span className="muted">tables from elsewhere, joined to the interviews by a key</span>
        <span className="grow" />
        {upload}
      </div>
      {bring.error && (
        <Alert
          type="error"
          showIcon
          title={messageOf(bring.error)}
          style={{ marginBottom: 12 }}
          closable={{
            onClose: () => {
              bring.reset();
            },
          }}
        />
      )}
      <Loaded query={tables}>
        {(found) =>
          found.length === 0 ? (
            <div className="sheet">
              <Empty title="No outside table yet." action={upload || undefined}>
                A .csv or .xlsx file, one row of headings. It is read whole or not at all; nothing joins before you have
                seen what matches.
              </Empty>
            </div>
          ) : (
            <div className="columns narrow-left">
              <div className="sheet lines">
                {found.map((t) => (
                  <button
                    key={t.id}
                    type="button"
                    className={`pick-line${t.id === (chosen ?? found[0]?.id) ? ' here' : ''}`}
                    onClick={() => {
                      setChosen(t.id);
                    }}
                  >
                    <b>{t.name}</b>
                    <span className="muted small">
                      {t.file_name} · {t.rows} rows
                    </span>
                    <span className="small">
                      {t.joined ? (
                        <>joined: {t.report?.matched ?? 0} matched</>
                      ) : (
                        <span className="doubt">not joined yet</span>
                      )}
                    </span>
                  </button>
                ))}
              </div>
              {found
                .filter((t) => t.id === (chosen ?? found[0]?.id))
                .map((t) => (
                  <OneTable key={t.id} table={t} id={id} />
                ))}
            </div>
          )
        }
      </Loaded>
    </div>
  );
}

function OneTable({ table, id }: { table: Outside; id: number }) {
  const may = useMay();
  const queries = useQueryClient();
  const { message, modal } = App.useApp();
  const variables = useVariables(id);
  const path = { questionnaire_id: id, outside_id: table.id };
  const [key, setKey] = useState(table.joined?.key ?? table.columns[0] ?? '');
  const [variable, setVariable] = useState(table.joined?.variable ?? '');
  const [take, setTake] = useState<string[]>(table.joined?.take ?? []);
  const refresh = () => queries.invalidateQueries({ queryKey: ['data', id] });
  const body = { variable, key, take };
  const ready = key !== '' && variable !== '' && take.length > 0;
  const preview = useQuery({
    queryKey: ['data', id, 'join', table.id, body],
    queryFn: () =>
      ask(api.POST('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/preview', { params: { path }, body })),
    enabled: ready && may('combine.write') && !table.joined,
  });
  const join = useMutation({
    mutationFn: () =>
      ask(api.PUT('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/join', { params: { path }, body })),
    onSuccess: (made) => {
      void refresh();
      void message.success(`Joined: ${made.report?.variables.join(', ') ?? ''} can be used like any variable.`);
    },
  });
  const undo = useMutation({
    mutationFn: () =>
      ask(api.DELETE('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/join', { params: { path } })),
    onSuccess: () => refresh(),
  });
  const remove = useMutation({
    mutationFn: () => api.DELETE('/api/questionnaires/{questionnaire_id}/outside/{outside_id}', { params: { path } }),
    onSuccess: () => refresh(),
    onError: (error) => {
      void message.error(messageOf(error));
    },
  });
  const report = table.joined ? table.report : preview.data;
  const own = (variables.data ?? []).filter(
    (v) => v.table === 'interviews' && v.origin === 'questionnaire' && v.measure !== 'codes',
  );
  const frozen = table.joined != null || !may('combine.write');
  return (
    <div className="stack">
      <section className="sheet pad">
        <div className="page-head tight">
          <h2>{table.name}</h2>
          <span className="muted small">
            {table.rows} rows, brought in by {table.created_by}
          </span>
          <span className="grow" />
          {may('combine.write') &&
            (table.joined ? (
              <Button
                loading={undo.isPending}
                onClick={() => {
                  undo.mutate();
                }}
              >
                Undo the join
              </Button>
            ) : (
              <>
                <Button
                  type="text"
                  onClick={() =>
                    void modal.confirm({
                      title: `Remove ${table.name}?`,
                      content: `Its ${String(table.rows)} rows and its card go; the interviews stay as they are.`,
                      okText: 'Remove',
                      okButtonProps: { danger: true },
                      onOk: () => remove.mutateAsync(),
                    })
                  }
                >
                  Remove
                </Button>
                <Button
                  type="primary"
                  disabled={!ready || !preview.data}
                  loading={join.isPending}
                  onClick={() => {
                    if (!join.isPending) join.mutate();
                  }}
                >
                  Join
                </Button>
              </>
            ))}
        </div>
        <div className="join-form">
          <label>
            Column of the table
            <Select
              disabled={frozen}
              value={key}
              options={table.columns.map((c) => ({ value: c, label: c }))}
              onChange={setKey}
            />
          </label>
          <span className="join-is">is</span>
          <label>
            Variable of the interview
            <Select
              disabled={frozen}
              showSearch={{ optionFilterProp: 'label' }}
              value={variable === '' ? null : variable}
              placeholder="Which variable"
              options={variableChoices(own)}
              onChange={setVariable}
            />
          </label>
          <label className="grow">
            Take over
            <Select
              mode="multiple"
              disabled={frozen}
              value={take}
              placeholder="Which columns"
              options={table.columns.filter((c) => c !== key).map((c) => ({ value: c, label: c }))}
              onChange={setTake}
            />
          </label>
        </div>
        {(preview.error ?? join.error) && (
          <Alert type="error" showIcon title={messageOf(preview.error ?? join.error)} />
        )}
        {table.problem !== '' && <Alert type="error" showIcon title={`The join no longer fits: ${table.problem}`} />}
        {report ? (
          <ReportView report={report} />
        ) : (
          <p className="muted">
            Say which column is which variable, and what to take over: what matches is shown here before anything is
            joined. Upper and lower case and surrounding space do not matter.
          </p>
        )}
      </section>
      <section className="sheet">
        <h2 className="sheet-head">First rows</h2>
        <div className="scroll-x">
          <Table<(string | null)[]>
            size="small"
            rowKey={(row) => row.join('|')}
            pagination={false}
            dataSource={table.sample}
            columns={table.columns.map((c, i) => ({
              title: c,
              render: (_: unknown, row: (string | null)[]) => row[i] ?? <span className="muted">–</span>,
            }))}
          />
        </div>
      </section>
      <CardForm table={table} id={id} />
    </div>
  );
}

function ReportView({ report }: { report: Report }) {
  const study = useStudy();
  const share = report.interviews === 0 ? 0 : (100 * report.matched) / report.interviews;
  return (
    <>
      <div
        className="join-bar"
        role="img"
        aria-label={`${String(report.matched)} of ${String(report.interviews)} interviews matched`}
      >
        <i style={{ width: `${String(share)}%` }} />
      </div>
      <div className="join-figures">
        <Figure n={report.matched} words={`of ${String(report.interviews)} interviews matched`} />
        <Figure n={report.unmatched_interviews_count} words="interviews find no row" odd />
        <Figure n={report.without_key} words="interviews have no key" odd />
        <Figure
          n={report.unmatched_rows_count}
          words={`of ${String(report.outside_rows)} rows are no interview’s`}
          odd
        />
        <Figure n={report.ambiguous.length} words="keys stand twice in the table: not joined" odd />
        <Figure n={report.repeated_interviews.length} words="keys belong to several interviews" odd />
      </div>
      <div className="join-lists">
        <Listing
          title="Interviews without a row"
          items={report.unmatched_interviews.map(({ place, value }) => ({
            key: place,
            text: value,
            to: `/studies/${String(study.id)}/interviews?keys=${place}`,
          }))}
        />
        <Listing
          title="Rows without an interview"
          items={report.unmatched_rows.map(({ place, value }) => ({ key: `row ${place}`, text: value }))}
        />
        <Listing
          title="Keys that stand twice"
          items={report.ambiguous.map(({ value, count }) => ({ key: `${String(count)} ×`, text: value }))}
        />
      </div>
    </>
  );
}

const Figure = ({ n, words, odd = false }: { n: number; words: string; odd?: boolean }) => (
  <div className="join-figure">
    <b className={odd && n > 0 ? 'doubt' : ''}>{n}</b>
    <span className="muted small">{words}</span>
  </div>
);

function Listing({ title, items }: { title: string; items: { key: string; text: string; to?: string }[] }) {
  if (items.length === 0) return null;
  return (
    <div>
      <h3>{title}</h3>
      {/* A list that scrolls is reached by the keyboard as well. */}
      {/* eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex */}
      <ul className="join-list" tabIndex={0} aria-label={title}>
        {items.slice(0, 100).map((item) => (
          <li key={item.key + item.text}>
            {item.to === undefined ? (
              <span className="muted">{item.key}</span>
            ) : (
              <Link className="mono" to={item.to}>
                {item.key}
              </Link>
            )}{' '}
            <code>{item.text}</code>
          </li>
        ))}
      </ul>
    </div>
  );
}

const CARD: [keyof Schemas['Card'], string][] = [
  ['collected_by', 'Who collected it'],
  ['collected_when', 'When'],
  ['purpose', 'Why'],
  ['terms', 'On what terms'],
  ['trust', 'How far it is trusted'],
];

function CardForm({ table, id }: { table: Outside; id: number }) {
  const may = useMay();
  const queries = useQueryClient();
  const [card, setCard] = useState(table.card);
  const save = useMutation({
    mutationFn: () =>
      ask(
        api.PUT('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/card', {
          params: { path: { questionnaire_id: id, outside_id: table.id } },
          body: card,
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['data', id, 'outside'] }),
  });
  return (
    <section className="sheet pad">
      <h2>Its card</h2>
      <div className="card-form">
        {CARD.map(([field, label]) => (
          <label key={field}>
            {label}
            <Input
              disabled={!may('combine.write')}
              value={card[field]}
              onChange={(event) => {
                setCard({ ...card, [field]: event.target.value });
              }}
              onBlur={() => {
                if (card[field] !== table.card[field]) save.mutate();
              }}
            />
          </label>
        ))}
      </div>
      {save.error && <Alert type="error" showIcon title={messageOf(save.error)} />}
    </section>
  );
}
