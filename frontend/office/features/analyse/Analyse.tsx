import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Alert, Checkbox, Input, Popover } from 'antd';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { Sentence, Word } from '../../ui/Sentence';
import { useMay, useQuestionnaireId, useStudy } from '../../ui/study';
import { Empty, Loaded, messageOf } from '../../ui/states';
import { useMoments } from '../../ui/moments';
import { MISSING, type Variable } from '../data';
import { DATA, choicesOfSets, useChosenSet, type NamedSet } from '../dataSets';
import { GoneSet } from '../GoneSet';
import { BehindFigure } from './BehindFigure';
import { BehindMadeUp } from './BehindMadeUp';
import { Chart } from './Chart';
import { Figures, type Chosen } from './Figures';
import { SavedTables, SaveTable } from './SavedTables';
import { askTable, useRehearsals, useSourceVariables, type Source } from './source';
import './analyse.css';
import { figure, t } from '../../texts/texts';

type Request = Schemas['TableRequest'];

/** Tables written as a sentence. */
export default function Analyse() {
  const id = useQuestionnaireId();
  const study = useStudy();
  const [params] = useSearchParams();
  const rehearsal = Number(params.get(MADE_UP)) || null;
  const rehearsals = useRehearsals(id);
  const { sets, chosen } = useChosenSet();
  const source =
    id === null || chosen === undefined
      ? null
      : { dataSetId: chosen.id, questionnaireId: chosen.recipe.sources[0]?.questionnaire ?? id, rehearsal };
  const variables = useSourceVariables(source, study.interviews > 0);
  if (id === null || (study.interviews === 0 && rehearsal === null)) {
    const newest = rehearsals.data?.[0];
    return (
      <div className="page">
        <div className="page-head">
          <h1>{t('common.analyse')}</h1>
        </div>
        <div className="sheet">
          <Empty title={t('analyse.noInterviewsAnalyseYet')}>
            {newest && id !== null ? (
              <>
                {t('analyse.madeUpHelps', { count: newest.interviews })}
                <br />
                <Link to={`?questionnaire=${String(id)}&${MADE_UP}=${String(newest.id)}`}>
                  {t('analyse.openMadeUp')}
                </Link>
              </>
            ) : (
              t('analyse.soonFirstArrivesTables')
            )}
          </Empty>
        </div>
      </div>
    );
  }
  return (
    <Loaded query={variables}>
      {(found) => (
        <Page
          key={`${String(rehearsal)} ${String(source?.dataSetId)}`}
          source={source ?? { dataSetId: 0, questionnaireId: id, rehearsal }}
          sets={sets}
          made={rehearsals.data?.find((r) => r.id === rehearsal) ?? null}
          variables={found}
        />
      )}
    </Loaded>
  );
}

const MADE_UP = 'made-up';

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

function Page({
  source,
  sets,
  made,
  variables,
}: {
  source: Source;
  sets: NamedSet[];
  /** The rehearsal that made the data up. */
  made: Schemas['RehearsalOut'] | null;
  variables: Variable[];
}) {
  const { dataSetId: id, rehearsal } = source;
  const may = useMay();
  const [params, setParams] = useSearchParams();
  const saved = useQuery({
    queryKey: ['tables', id],
    queryFn: () => ask(api.GET('/api/data-sets/{data_set_id}/tables', { params: { path: { data_set_id: id } } })),
  });
  const opened = saved.data?.find((t) => String(t.id) === params.get('table'));
  const request = opened && params.get('variable') === null ? opened.request : requestFrom(params, variables);
  const table = useQuery({
    queryKey: rehearsal === null ? ['data set', id, 'table', request] : ['made up', source, 'table', request],
    queryFn: () => askTable(source, request),
    placeholderData: keepPreviousData,
    enabled: request.variable !== '',
  });
  const [chosen, setChosen] = useState<Chosen | null>(null);

  const here: Record<string, string> = rehearsal === null ? { [DATA]: String(id) } : { [MADE_UP]: String(rehearsal) };
  const write = (changes: Partial<Request>) => {
    const next = { ...request, ...changes };
    setChosen(null);
    const words: Record<string, string> = {
      ...here,
      show: next.show,
      variable: next.variable,
    };
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
          {table.data?.revision !== undefined && ` · ${t('analyse.revision', { revision: table.data.revision })}`}
        </span>
        <span className="grow" />
        <SavedTables
          id={id}
          tables={saved.data ?? []}
          onOpen={(one) => {
            setChosen(null);
            setParams({ ...here, table: String(one) });
          }}
        />
        {may('analyse.write') && (
          <SaveTable
            source={source}
            request={request}
            disabled={!table.data || table.error !== null}
            onSaved={(one) => {
              setParams({ ...here, table: String(one) });
            }}
          />
        )}
      </div>
      <GoneSet />
      {rehearsal !== null && <MadeUpNotice made={made} count={table.data?.interviews ?? 0} />}
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
        {rehearsal === null && (
          <>
            <span>{t('analyse.fromSet')}</span>
            <Word
              label={t('analyse.dataSet')}
              value={String(id)}
              options={choicesOfSets(sets)}
              onChange={(one) => {
                setParams({ [DATA]: one });
              }}
            />
          </>
        )}
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
                {chosen &&
                  (rehearsal === null ? (
                    <BehindFigure dataSetId={id} table={data} chosen={chosen} />
                  ) : (
                    <BehindMadeUp source={source} table={data} chosen={chosen} />
                  ))}
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

/** Whoever looks at made-up figures is never in doubt about it. */
function MadeUpNotice({ made, count }: { made: Schemas['RehearsalOut'] | null; count: number }) {
  const { ago } = useMoments();
  const study = useStudy();
  return (
    <p className="made-up" role="note">
      {t('analyse.madeUp', { count: made?.interviews ?? count, at: made ? ago(made.made_at) : '' })}
      <span className="grow" />
      {study.interviews > 0 && <Link to="?">{t('analyse.toCollected')}</Link>}
    </p>
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
  const outside = Object.entries(table.outside_base).map(([kind, n]) => `${MISSING[kind] ?? kind} ${figure(n)}`);
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
