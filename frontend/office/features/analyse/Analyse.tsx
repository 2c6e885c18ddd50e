import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Alert, App, Button, Checkbox, Dropdown, Input, Popover } from 'antd';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { Sentence, Word } from '../../ui/Sentence';
import { useQuestionnaireId, useStudy } from '../../ui/StudyFrame';
import { Empty, Loaded, messageOf } from '../../ui/states';
import { useVariables, type Variable } from '../data';
import { useMay } from '../session/session';
import { BehindFigure } from './BehindFigure';
import { Chart } from './Chart';
import { Figures, type Chosen } from './Figures';
import './analyse.css';

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
          <h1>Analyse</h1>
        </div>
        <div className="sheet">
          <Empty title="No interviews to analyse yet.">As soon as the first arrives, tables can be made of it.</Empty>
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
  const none = { value: '*', label: 'nothing' };

  return (
    <div className="page with-status">
      <div className="page-head">
        <h1 className="clip">{title ?? 'Analyse'}</h1>
        <span className="muted">
          {opened && params.get('variable') === null ? 'saved table' : 'not saved'}
          {table.data ? ` · ${String(table.data.interviews)} interviews` : ''}
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
      <Sentence side={<span>unweighted, 95 % interval</span>}>
        <span>Show</span>
        <Word
          label="What to show"
          value={request.show}
          options={[
            { value: 'share', label: 'the shares of' },
            { value: 'mean', label: 'the mean of' },
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
          label="Variable"
          value={request.variable}
          options={(request.show === 'mean' ? numbers : groups).map(named)}
          onChange={(v) => {
            write({ variable: v });
          }}
        />
        {request.show === 'mean' && (
          <>
            <span>by</span>
            <Word
              label="By"
              value={request.by ?? '*'}
              options={[none, ...groups.map(named)]}
              onChange={(v) => {
                write({ by: v === '*' ? null : v });
              }}
            />
          </>
        )}
        <span>across</span>
        <Word
          label="Across"
          value={request.across ?? '*'}
          options={[none, ...groups.filter((g) => g.variable !== request.variable).map(named)]}
          onChange={(v) => {
            write({ across: v === '*' ? null : v });
          }}
        />
        <span>for</span>
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
                {!chosen && <p className="muted small behind-hint">Choose a figure to see what is behind it.</p>}
              </div>
            </div>
          )}
        </Loaded>
      )}
      <footer className="status">
        <span>Every figure opens what is behind it</span>
        <span className="grow" />
        <span>intervals: shares by Wilson, means by Student’s t</span>
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
            aria-label="Only where"
            onChange={(event) => {
              setText(event.target.value);
            }}
            onPressEnter={keep}
          />
          <p className="muted small">A rule as in the questionnaire; empty for everyone.</p>
        </div>
      }
    >
      <button type="button" className="word-button">
        {value === '' ? 'everyone' : value}
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
  const words: Record<string, string> = {
    not_asked: 'not asked',
    dont_know: 'don’t know',
    refused: 'refused',
    unanswered: 'unanswered',
  };
  const outside = Object.entries(table.outside_base).map(([kind, n]) => `${words[kind] ?? kind} ${String(n)}`);
  const { test } = table;
  const p = test?.p ?? 1;
  return (
    <div className="notes">
      <span>
        {outside.length > 0
          ? `${outside.join(', ')} ${outside.length > 1 ? 'are' : 'is'} outside the base`
          : 'nothing is outside the base'}
      </span>
      {show === 'share' && (
        <Checkbox
          checked={specials}
          onChange={(event) => {
            onSpecials(event.target.checked);
          }}
        >
          count don’t know and refused as answers
        </Checkbox>
      )}
      {test && (
        <span className="test">
          χ² = {(test.statistic ?? 0).toFixed(2)} on {test.degrees}, p {p < 0.0001 ? '< 0.0001' : `= ${p.toFixed(4)}`}
          {(test.smallest_expected ?? 5) < 5 && (
            <span className="doubt">
              {' '}
              · smallest expected count {(test.smallest_expected ?? 0).toFixed(1)}: the test is doubtful
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
        items: tables.map((t) => ({
          key: t.id,
          label: (
            <span className="row">
              <span className="grow">{t.title}</span>
              {may('analyse.write') && (
                <Button
                  size="small"
                  type="text"
                  aria-label={`Remove ${t.title}`}
                  onClick={(event) => {
                    event.stopPropagation();
                    modal.confirm({
                      title: `Remove the saved table “${t.title}”?`,
                      content: 'Its sentence goes; the data stays as it is.',
                      okText: 'Remove',
                      okButtonProps: { danger: true },
                      onOk: () => remove.mutateAsync(t.id),
                    });
                  }}
                >
                  ×
                </Button>
              )}
            </span>
          ),
          onClick: () => {
            onOpen(t.id);
          },
        })),
      }}
    >
      <Button>Saved tables · {tables.length}</Button>
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
            placeholder="Title of the table"
            value={title}
            onChange={(event) => {
              setTitle(event.target.value);
            }}
          />
          <Button type="primary" htmlType="submit" disabled={title.trim() === ''} loading={save.isPending}>
            Save
          </Button>
        </form>
      }
    >
      <Button type="primary" disabled={disabled}>
        Save …
      </Button>
    </Popover>
  );
}
