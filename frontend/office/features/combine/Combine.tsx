import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Alert, App, Button, Input, Select, Table, Upload } from 'antd';
import { useRef, useState } from 'react';
import { Link } from 'react-router';
import { api, ask, sendFile, type Schemas } from '../../../shared/api/client';
import { useMay, useQuestionnaireId, useStudy } from '../../ui/study';
import { Empty, Loaded, messageOf } from '../../ui/states';
import { useVariables, variableChoices } from '../data';
import './combine.css';
import { t } from '../../texts/texts';

type Outside = Schemas['OutsideOut'];
type Report = Schemas['Report'];

/** Outside tables and how they join the interviews. */
export default function Combine() {
  const id = useQuestionnaireId();
  return id === null ? (
    <div className="page">
      <div className="sheet">
        <Empty title={t('combine.nothingCombineYet')} />
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
      void message.success(
        t('combine.rowsColumns', { file_name: made.file_name, count: made.rows, columns: made.columns.length }),
      );
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
        {t('combine.bringTable')}
      </Button>
    </Upload>
  );
  return (
    <div className="page">
      <div className="page-head">
        <h1>{t('common.combine')}</h1>
        <span className="muted">{t('combine.tablesElsewhereJoinedInterviews')}</span>
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
              <Empty title={t('combine.noOutsideTableYet')} action={upload || undefined}>
                {t('combine.csvXlsxFileOne')}
              </Empty>
            </div>
          ) : (
            <div className="columns narrow-left">
              <div className="sheet lines">
                {found.map((table) => (
                  <button
                    key={table.id}
                    type="button"
                    className={`pick-line${table.id === (chosen ?? found[0]?.id) ? ' here' : ''}`}
                    onClick={() => {
                      setChosen(table.id);
                    }}
                  >
                    <b>{table.name}</b>
                    <span className="muted small">
                      {t('combine.fileRows', { file_name: table.file_name, count: table.rows })}
                    </span>
                    <span className="small">
                      {table.joined ? (
                        <>{t('combine.joinedMatched', { matched: table.report?.matched ?? 0 })}</>
                      ) : (
                        <span className="doubt">{t('combine.notJoinedYet')}</span>
                      )}
                    </span>
                  </button>
                ))}
              </div>
              {found
                .filter((table) => table.id === (chosen ?? found[0]?.id))
                .map((table) => (
                  <OneTable key={table.id} table={table} id={id} />
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
      void message.success(t('combine.joinedCanUsedLike', { variables: made.report?.variables.join(', ') ?? '' }));
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
            {t('combine.rowsBrought', { count: table.rows, created_by: table.created_by })}
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
                {t('combine.undoJoin')}
              </Button>
            ) : (
              <>
                <Button
                  type="text"
                  onClick={() =>
                    void modal.confirm({
                      title: t('combine.remove', { name: table.name }),
                      content: t('combine.itsRowsItsCard', { count: table.rows }),
                      okText: t('common.remove'),
                      okButtonProps: { danger: true },
                      onOk: () => remove.mutateAsync(),
                    })
                  }
                >
                  {t('common.remove')}
                </Button>
                <Button
                  type="primary"
                  disabled={!ready || !preview.data}
                  loading={join.isPending}
                  onClick={() => {
                    if (!join.isPending) join.mutate();
                  }}
                >
                  {t('combine.join')}
                </Button>
              </>
            ))}
        </div>
        <div className="join-form">
          <label>
            {t('combine.columnTable')}
            <Select
              disabled={frozen}
              value={key}
              options={table.columns.map((c) => ({ value: c, label: c }))}
              onChange={setKey}
            />
          </label>
          <span className="join-is">{t('combine.is')}</span>
          <label>
            {t('combine.variableInterview')}
            <Select
              disabled={frozen}
              showSearch={{ optionFilterProp: 'label' }}
              value={variable === '' ? null : variable}
              placeholder={t('common.whichVariable')}
              options={variableChoices(own)}
              onChange={setVariable}
            />
          </label>
          <label className="grow">
            {t('combine.takeOver')}
            <Select
              mode="multiple"
              disabled={frozen}
              value={take}
              placeholder={t('combine.whichColumns')}
              options={table.columns.filter((c) => c !== key).map((c) => ({ value: c, label: c }))}
              onChange={setTake}
            />
          </label>
        </div>
        {(preview.error ?? join.error) && (
          <Alert type="error" showIcon title={messageOf(preview.error ?? join.error)} />
        )}
        {table.problem !== '' && (
          <Alert type="error" showIcon title={t('combine.joinNoLongerFits', { problem: table.problem })} />
        )}
        {report ? <ReportView report={report} /> : <p className="muted">{t('combine.sayWhichColumnWhich')}</p>}
      </section>
      <section className="sheet">
        <h2 className="sheet-head">{t('combine.firstRows')}</h2>
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
        aria-label={t('combine.interviewsMatched', { matched: report.matched, interviews: report.interviews })}
      >
        <i style={{ width: `${String(share)}%` }} />
      </div>
      <div className="join-figures">
        <Figure n={report.matched} words={t('combine.interviewsMatched2', { interviews: report.interviews })} />
        <Figure n={report.unmatched_interviews_count} words={t('combine.interviewsFindNoRow')} odd />
        <Figure n={report.without_key} words={t('combine.interviewsHaveNoKey')} odd />
        <Figure
          n={report.unmatched_rows_count}
          words={t('combine.rowsNoInterviews', { outside_rows: report.outside_rows })}
          odd
        />
        <Figure n={report.ambiguous.length} words={t('combine.keysStandTwiceTable')} odd />
        <Figure n={report.repeated_interviews.length} words={t('combine.keysBelongSeveralInterviews')} odd />
      </div>
      <div className="join-lists">
        <Listing
          title={t('combine.interviewsWithoutRow')}
          items={report.unmatched_interviews.map(({ place, value }) => ({
            key: place,
            text: value,
            to: `/studies/${String(study.id)}/interviews?keys=${place}`,
          }))}
        />
        <Listing
          title={t('combine.rowsWithoutInterview')}
          items={report.unmatched_rows.map(({ place, value }) => ({ key: `row ${place}`, text: value }))}
        />
        <Listing
          title={t('combine.keysStandTwice')}
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
  ['collected_by', t('combine.whoCollected')],
  ['collected_when', t('combine.when')],
  ['purpose', t('common.why')],
  ['terms', t('combine.whatTerms')],
  ['trust', t('combine.howFarTrusted')],
];

function CardForm({ table, id }: { table: Outside; id: number }) {
  const may = useMay();
  const queries = useQueryClient();
  const [card, setCard] = useState(table.card);
  // Fields are kept one after the other, each on top of what the one before made.
  const version = useRef(table.version);
  const save = useMutation({
    mutationFn: () =>
      ask(
        api.PUT('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/card', {
          params: { path: { questionnaire_id: id, outside_id: table.id } },
          body: { ...card, version: version.current },
        }),
      ),
    scope: { id: `card ${String(table.id)}` },
    onSuccess: (kept) => {
      version.current = kept.version;
      return queries.invalidateQueries({ queryKey: ['data', id, 'outside'] });
    },
  });
  return (
    <section className="sheet pad">
      <h2>{t('combine.itsCard')}</h2>
      {save.error && <Alert type="error" showIcon title={save.error.message} style={{ marginBottom: 12 }} />}
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
