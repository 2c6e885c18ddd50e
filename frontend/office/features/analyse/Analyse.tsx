import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Alert, App, Button, Checkbox, Dropdown, Input, Popover } from 'antd';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { Sentence, Word } from '../../ui/Sentence';
import { useMay, useQuestionnaireId, useStudy } from '../../ui/study';
import { Empty, Loaded, messageOf } from '../../ui/states';
import { MISSING, useVariables, type Variable } from '../data';
import { BehindFigure } from './BehindFigure';
import { Chart } from './Chart';
import { Figures, type Chosen } from './Figures';
import './analyse.css';
import { t } from '../../texts/texts';

type Request = Schemas['TableRequest'];

/** Tables written as a sentence. */
export default function Analyse() {
  const id = useQuestionnaireId();
  const study = useStudy();
  const variables = useVariables(study.interviews > 0 ? id : null);
  if (id === null || study.interviews === 0)
    return (
      <div className="page">
        <div className="page-head">
          <h1>{t('common.analyse')}</h1>
        </div>
        <div className="sheet">
          <Empty title={t('analyse.noInterviewsAnalyseYet')}>{t('analyse.soonFirstArrivesTables')}</Empty>
        </div>
      </div>
    );
  return <Loaded query={variables}>{(found) => <Page id={id} variables={found} />}</Loaded>;
}

const GROUPS = (v: Variable) =>
  v.measure === 'code' ||
  v.measure === 'yes/no' ||
  v.measure === 'codes' ||
  (v.measure === 'number' && v.kind === 'whole number');
const named = (v: Variable) => ({ value: v.variable, label: v.variable });

function requestFrom(params: URLSearchParams, variables: Variable[]): Request {
  const first = variables.find((v) => v.measure === 'code') ?? variables[0];
  return {
    show: params.get('show') === 'mean' ? 'mean' : 'share',
    variable: params.get('variable') ?? first?.variable ?? '',
    by: params.get('by'),
    across: params.get('across'),
    where: params.get('where') ?? '',
    special_in_base: params.get('special') === '1',
    language: params.get('language') ?? 'en',
  };
}

function Page({ id, variables }: { id: number; variables: Variable[] }) {
  const may = useMay();
  const [params, setParams] = useSearchParams();
  const saved = useQuery({
    queryKey: ['tables', id],
    queryFn: () =>
      ask(api.GET('/api/questionnaires/{questionnaire_id}/tables', { params: { path: { questionnaire_id: id } } })),
  });
  const opened = saved.data?.find((t) => String(t.id) === params.get('table'));
  const request = opened && params.get('variable') === null ? opened.request : requestFrom(params, variables);
  const table = useQuery({
    queryKey: ['data', id, 'table', request],
    queryFn: () =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/table', {
          params: { path: { questionnaire_id: id } },
          body: request,
        }),
      ),
    placeholderData: keepPreviousData,
    enabled: request.variable !== '',
  });
  const [chosen, setChosen] = useState<Chosen | null>(null);

  const write = (changes: Partial<Request>) => {
    const next = { ...request, ...changes };
    setChosen(null);
    const words: Record<string, string> = { show: next.show, variable: next.variable };
    if (next.by) words.by = next.by;
    if (next.across) words.across = next.across;
    if (next.where !== '') words.where = next.where;
    if (next.special_in_base) words.special = '1';
    setParams(words);
  };
  const groups = variables.filter(GROUPS);
  const numbers = variables.filter((v) => v.measure === 'number');
  const title = opened && params.get('variable') === null ? opened.title : table.data?.title;
  const none = { value: '*', label: t('common.nothing') };

  return (
    <div className="page with-status">
      <div className="page-head">
        <h1 className="clip">{title ?? t('common.analyse')}</h1>
        <span className="muted">
          {opened && params.get('variable') === null ? t('analyse.savedTable') : t('analyse.notSaved')}
          {table.data ? ` · ${t('common.interviewCount', { count: table.data.interviews })}` : ''}
        </span>
        <span className="grow" />
        <SavedTables
          id={id}
          tables={saved.data ?? []}
          onOpen={(one) => {
            setChosen(null);
            setParams({ table: String(one) });
          }}
        />
        {may('analyse.write') && (
          <SaveTable
            id={id}
            request={request}
            disabled={!table.data || table.error !== null}
            onSaved={(one) => {
              setParams({ table: String(one) });
            }}
          />
        )}
      </div>
      <Sentence side={<span>{t('analyse.unweighted95Interval')}</span>}>
        <span>{t('analyse.show')}</span>
        <Word
          label={t('analyse.whatShow')}
          value={request.show}
          options={[
            { value: 'share', label: t('analyse.shares') },
            { value: 'mean', label: t('analyse.mean2') },
          ]}
          onChange={(v) => {
            const show = v === 'mean' ? 'mean' : 'share';
            const fits = show === 'mean' ? numbers : variables;
            write({
              show,
              by: null,
              variable: fits.some((x) => x.variable === request.variable)
                ? request.variable
                : (fits[0]?.variable ?? ''),
            });
          }}
        />
        <Word
          label={t('common.variable')}
          value={request.variable}
          options={(request.show === 'mean' ? numbers : groups).map(named)}
          onChange={(v) => {
            write({ variable: v });
          }}
        />
        {request.show === 'mean' && (
          <>
            <span>{t('common.by')}</span>
            <Word
              label={t('analyse.by')}
              value={request.by ?? '*'}
              options={[none, ...groups.map(named)]}
              onChange={(v) => {
                write({ by: v === '*' ? null : v });
              }}
            />
          </>
        )}
        <span>{t('analyse.across2')}</span>
        <Word
          label={t('analyse.across')}
          value={request.across ?? '*'}
          options={[none, ...groups.filter((g) => g.variable !== request.variable).map(named)]}
          onChange={(v) => {
            write({ across: v === '*' ? null : v });
          }}
        />
        <span>{t('analyse.for')}</span>
        <WhereWord
          key={request.where}
          value={request.where}
          onChange={(where) => {
            write({ where });
          }}
        />
      </Sentence>
      {table.error ? (
        <Alert type="error" showIcon title={messageOf(table.error)} />
      ) : (
        <Loaded query={table}>
          {(data) => (
            <div className="columns analysis">
              <div className="sheet">
                <Figures table={data} chosen={chosen} onChoose={setChosen} />
                <Notes
                  table={data}
                  specials={request.special_in_base}
                  show={request.show}
                  onSpecials={(on) => {
                    write({ special_in_base: on });
                  }}
                />
              </div>
              <div className="sheet pad side-sheet">
                <Chart table={data} />
                {chosen && <BehindFigure questionnaireId={id} table={data} chosen={chosen} />}
                {!chosen && <p className="muted small behind-hint">{t('analyse.chooseFigureSeeWhat')}</p>}
              </div>
            </div>
          )}
        </Loaded>
      )}
      <footer className="status">
        <span>{t('analyse.everyFigureOpensWhat')}</span>
        <span className="grow" />
        <span>{t('analyse.intervalsSharesWilsonMeans')}</span>
      </footer>
    </div>
  );
}

function WhereWord({ value, onChange }: { value: string; onChange: (where: string) => void }) {
  const [text, setText] = useState(value);
  const [open, setOpen] = useState(false);
  const keep = () => {
    setOpen(false);
    if (text.trim() !== value) onChange(text.trim());
  };
  return (
    <Popover
      trigger="click"
      open={open}
      onOpenChange={(now) => {
        if (now) setOpen(true);
        else keep();
      }}
      content={
        <div style={{ width: 340 }}>
          <Input
            autoFocus
            className="mono"
            value={text}
            placeholder="age >= 15 and island is kesk"
            aria-label={t('analyse.onlyWhere')}
            onChange={(event) => {
              setText(event.target.value);
            }}
            onPressEnter={keep}
          />
          <p className="muted small">{t('analyse.ruleQuestionnaireEmptyEveryone')}</p>
        </div>
      }
    >
      <button type="button" className="word-button">
        {value === '' ? t('analyse.everyone') : value}
      </button>
    </Popover>
  );
}

function Notes({
  table,
  specials,
  show,
  onSpecials,
}: {
  table: Schemas['ResultTable'];
  specials: boolean;
  show: string;
  onSpecials: (on: boolean) => void;
}) {
  const outside = Object.entries(table.outside_base).map(([kind, n]) => `${MISSING[kind] ?? kind} ${String(n)}`);
  const { test } = table;
  const p = test?.p ?? 1;
  return (
    <div className="notes">
      <span>
        {outside.length > 0
          ? t('analyse.outsideBase', { count: outside.length, outside: outside.join(', ') })
          : t('analyse.nothingOutsideBase')}
      </span>
      {show === 'share' && (
        <Checkbox
          checked={specials}
          onChange={(event) => {
            onSpecials(event.target.checked);
          }}
        >
          {t('analyse.countDontKnowRefused')}
        </Checkbox>
      )}
      {test && (
        <span className="test">
          {t('analyse.chiSquare', { statistic: (test.statistic ?? 0).toFixed(2), degrees: test.degrees ?? 0 })}, p{' '}
          {p < 0.0001 ? '< 0.0001' : `= ${p.toFixed(4)}`}
          {(test.smallest_expected ?? 5) < 5 && (
            <span className="doubt">
              {' · '} {t('analyse.doubtfulTest', { smallest_expected: (test.smallest_expected ?? 0).toFixed(1) })}
            </span>
          )}
        </span>
      )}
    </div>
  );
}

function SavedTables({
  id,
  tables,
  onOpen,
}: {
  id: number;
  tables: Schemas['SavedOut'][];
  onOpen: (id: number) => void;
}) {
  const may = useMay();
  const queries = useQueryClient();
  const remove = useMutation({
    mutationFn: (table: number) =>
      api.DELETE('/api/questionnaires/{questionnaire_id}/tables/{table_id}', {
        params: { path: { questionnaire_id: id, table_id: table } },
      }),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['tables', id] }),
  });
  const { modal } = App.useApp();
  if (tables.length === 0) return null;
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        items: tables.map((table) => ({
          key: table.id,
          label: (
            <span className="row">
              <span className="grow">{table.title}</span>
              {may('analyse.write') && (
                <Button
                  size="small"
                  type="text"
                  aria-label={t('analyse.remove', { title: table.title })}
                  onClick={(event) => {
                    event.stopPropagation();
                    modal.confirm({
                      title: t('analyse.removeSavedTable', { title: table.title }),
                      content: t('analyse.itsSentenceGoesData'),
                      okText: t('common.remove'),
                      okButtonProps: { danger: true },
                      onOk: () => remove.mutateAsync(table.id),
                    });
                  }}
                >
                  ×
                </Button>
              )}
            </span>
          ),
          onClick: () => {
            onOpen(table.id);
          },
        })),
      }}
    >
      <Button>{t('analyse.savedTables', { tables: tables.length })}</Button>
    </Dropdown>
  );
}

function SaveTable({
  id,
  request,
  disabled,
  onSaved,
}: {
  id: number;
  request: Request;
  disabled: boolean;
  onSaved: (id: number) => void;
}) {
  const [title, setTitle] = useState('');
  const [open, setOpen] = useState(false);
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/tables', {
          params: { path: { questionnaire_id: id } },
          body: { title, request },
        }),
      ),
    onSuccess: (made) => {
      setOpen(false);
      setTitle('');
      void queries.invalidateQueries({ queryKey: ['tables', id] }).then(() => {
        onSaved(made.id);
      });
    },
  });
  return (
    <Popover
      trigger="click"
      placement="bottomRight"
      open={open}
      onOpenChange={setOpen}
      content={
        <form
          className="row"
          style={{ width: 320 }}
          onSubmit={(event) => {
            event.preventDefault();
            if (!save.isPending && title.trim() !== '') save.mutate();
          }}
        >
          <Input
            autoFocus
            placeholder={t('analyse.titleTable')}
            value={title}
            onChange={(event) => {
              setTitle(event.target.value);
            }}
          />
          <Button type="primary" htmlType="submit" disabled={title.trim() === ''} loading={save.isPending}>
            {t('analyse.save')}
          </Button>
        </form>
      }
    >
      <Button type="primary" disabled={disabled}>
        {t('analyse.save2')}
      </Button>
    </Popover>
  );
}
