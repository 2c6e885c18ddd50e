// The fields of a step, each by what it is filled in with.
import { Button, Checkbox, Input, InputNumber, Select } from 'antd';
import { useQuery } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { api, ask } from '../../../shared/api/client';
import { variableChoices, type Variable } from '../data';
import { t } from '../../texts/texts';
import type { Draft, Profile } from './plan';
import type { Field } from './steps';
import { FIELDS } from './words';

interface Props {
  questionnaireId: number;
  fields: Field[];
  draft: Draft;
  variables: Variable[];
  profiles: Profile[];
  onChange: (draft: Draft) => void;
}

export function StepFields({ questionnaireId, fields, draft, variables, profiles, onChange }: Props) {
  const set = (name: string, value: unknown) => {
    onChange({ ...draft, [name]: value });
  };
  const about = variables.find((v) => v.variable === draft.variable);
  const into = variables.find((v) => v.variable === draft.into);
  const useful = fields.filter((field) => about === undefined || !field.notOf?.includes(about.measure));
  return (
    <>
      {useful.map((field) =>
        field.as === 'yes' ? (
          <Checkbox
            key={field.name}
            checked={draft[field.name] === true}
            onChange={(event) => {
              set(field.name, event.target.checked);
            }}
          >
            {field.label ?? FIELDS[field.name]}
          </Checkbox>
        ) : (
          <label key={field.name}>
            <span>
              {field.label ?? FIELDS[field.name]}
              {field.about !== undefined && <span className="muted"> · {field.about}</span>}
            </span>
            <FieldInput
              field={field}
              value={draft[field.name]}
              variables={variables}
              about={about}
              into={into}
              questionnaireId={questionnaireId}
              unit={profiles.find((p) => p.variable === draft.unit)}
              onChange={(value) => {
                set(field.name, value);
              }}
            />
          </label>
        ),
      )}
    </>
  );
}

interface InputProps {
  questionnaireId: number;
  field: Field;
  value: unknown;
  variables: Variable[];
  about: Variable | undefined;
  into: Variable | undefined;
  unit: Profile | undefined;
  onChange: (value: unknown) => void;
}

const texts = (value: unknown): string[] => (Array.isArray(value) ? value.map(String) : []);
const text = (value: unknown): string => (typeof value === 'string' || typeof value === 'number' ? String(value) : '');
const asMap = (value: unknown): Record<string, string> =>
  typeof value === 'object' && value !== null ? (value as Record<string, string>) : {};

function FieldInput({ field, value, variables, about, into, unit, questionnaireId, onChange }: InputProps): ReactNode {
  const fitting = variables.filter((v) => field.measures === undefined || field.measures.includes(v.measure));
  switch (field.as) {
    case 'variable':
      return (
        <Select
          showSearch={{ optionFilterProp: 'label' }}
          allowClear={field.optional === true}
          value={text(value) || null}
          options={variableChoices(fitting)}
          onChange={(chosen: string | undefined) => {
            onChange(chosen ?? '');
          }}
        />
      );
    case 'variables':
      return (
        <Select
          mode="multiple"
          showSearch={{ optionFilterProp: 'label' }}
          value={texts(value)}
          options={variableChoices(variables)}
          onChange={onChange}
        />
      );
    case 'table':
      return (
        <Select
          value={text(value) || null}
          options={[...new Set(variables.map((v) => v.table))].map((name) => ({ value: name, label: name }))}
          onChange={onChange}
        />
      );
    case 'choice':
      return (
        <Select
          allowClear={field.optional === true}
          value={typeof value === 'string' ? value : null}
          options={field.choices ?? []}
          onChange={(chosen: string | undefined) => {
            onChange(chosen ?? null);
          }}
        />
      );
    case 'kinds':
      return <Select mode="multiple" value={texts(value)} options={field.choices ?? []} onChange={onChange} />;
    case 'number':
      return (
        <InputNumber value={typeof value === 'number' ? value : null} onChange={onChange} style={{ width: 140 }} />
      );
    case 'rule':
    case 'formula':
      return (
        <Input.TextArea
          className="mono"
          autoSize={{ minRows: 1, maxRows: 5 }}
          spellCheck={false}
          placeholder={field.as === 'rule' ? t('clean.ruleFor') : t('clean.formulaFor')}
          value={text(value)}
          onChange={(event) => {
            onChange(event.target.value);
          }}
        />
      );
    case 'value':
      return <ValueInput column={about} value={value} onChange={onChange} />;
    case 'list':
      return (
        <Input
          value={texts(value).join(', ')}
          placeholder={t('clean.withCommas')}
          onChange={(event) => {
            onChange(
              event.target.value
                .split(/\s*,\s*/)
                .filter((piece, at, all) => piece !== '' || at === all.length - 1)
                .filter((piece) => piece !== '' || event.target.value.endsWith(',')),
            );
          }}
        />
      );
    case 'mapping':
      return (
        <Mapping
          questionnaireId={questionnaireId}
          variable={about?.variable ?? ''}
          codes={about?.measure === 'text' ? null : (about?.codes ?? {})}
          mapping={asMap(value)}
          onChange={onChange}
        />
      );
    case 'words':
      return (
        <Mapping
          questionnaireId={questionnaireId}
          variable={about?.variable ?? ''}
          codes={into?.codes ?? {}}
          open
          mapping={asMap(value)}
          onChange={onChange}
        />
      );
    case 'factors':
      return <Pairs pairs={asMap(value)} from={(unit?.bars ?? []).map((bar) => bar.label)} onChange={onChange} mono />;
    case 'codes':
      return <Pairs pairs={asMap(value)} from={[]} onChange={onChange} />;
    case 'classes':
      return <ClassRows value={value} onChange={onChange} />;
    case 'name':
    case 'text':
      return (
        <Input
          className={field.as === 'name' ? 'mono' : ''}
          value={text(value)}
          onChange={(event) => {
            onChange(event.target.value);
          }}
        />
      );
  }
}

function ValueInput({
  column,
  value,
  onChange,
}: {
  column: Variable | undefined;
  value: unknown;
  onChange: (value: unknown) => void;
}) {
  if (column?.measure === 'yes/no')
    return (
      <Select
        value={typeof value === 'boolean' ? value : null}
        options={[
          { value: true, label: t('common.yes') },
          { value: false, label: t('common.no') },
        ]}
        onChange={onChange}
      />
    );
  if (column?.measure === 'code' || column?.measure === 'codes')
    return (
      <Select
        mode={column.measure === 'codes' ? 'multiple' : undefined}
        value={value ?? (column.measure === 'codes' ? [] : null)}
        options={Object.entries(column.codes).map(([code, label]) => ({ value: code, label: `${code} · ${label}` }))}
        onChange={onChange}
      />
    );
  return (
    <Input
      value={text(value)}
      onChange={(event) => {
        onChange(event.target.value);
      }}
    />
  );
}

/** What each value becomes; what is not named stays. `codes` null: any text will do; `open`: a new code may be written. */
function Mapping({
  questionnaireId,
  variable,
  codes,
  open = false,
  mapping,
  onChange,
}: {
  questionnaireId: number;
  variable: string;
  codes: Record<string, string> | null;
  open?: boolean;
  mapping: Record<string, string>;
  onChange: (mapping: Record<string, string>) => void;
}) {
  const [like, setLike] = useState('');
  // What is proposed comes first; a line that is written in stays where it is.
  const [proposed] = useState(() => new Set(Object.keys(mapping)));
  const values = useQuery({
    queryKey: ['data', questionnaireId, 'values', variable, like],
    enabled: variable !== '',
    placeholderData: (before) => before,
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/plan/values', {
          params: { path: { questionnaire_id: questionnaireId }, query: { variable, like } },
        }),
      ),
  });
  const found = values.data?.values ?? [];
  const known = new Set(found.map(({ value }) => value));
  const mapped = Object.keys(mapping).filter(
    (value) => !known.has(value) && value.toLowerCase().includes(like.toLowerCase()),
  );
  const all = [...found, ...mapped.map((value) => ({ value, count: -1 }))];
  const listed = [
    ...all.filter(({ value }) => proposed.has(value)),
    ...all.filter(({ value }) => !proposed.has(value)),
  ];
  const more = (values.data?.distinct ?? 0) - found.length;
  const set = (value: string, to: string) => {
    const rest = Object.fromEntries(Object.entries(mapping).filter(([key]) => key !== value));
    onChange(to === '' ? rest : { ...rest, [value]: to });
  };
  return (
    <div className="mapping">
      {((values.data?.distinct ?? 0) > 12 || like !== '') && (
        <Input
          size="small"
          allowClear
          value={like}
          placeholder={t('clean.findValue')}
          aria-label={t('clean.findValue')}
          onChange={(event) => {
            setLike(event.target.value);
          }}
        />
      )}
      {listed.map(({ value, count }) => (
        <div key={value} className="row">
          <span className="grow clip">
            <code>{value}</code> <span className="muted">{count < 0 ? '' : count}</span>
          </span>
          <span>→</span>
          {codes === null || open ? (
            <Input
              size="small"
              style={{ width: 170 }}
              placeholder={t('clean.stays')}
              list={open ? 'codes-of-into' : undefined}
              value={mapping[value] ?? ''}
              onChange={(event) => {
                set(value, event.target.value);
              }}
            />
          ) : (
            <Select
              size="small"
              allowClear
              style={{ width: 170 }}
              placeholder={t('clean.stays')}
              value={mapping[value] ?? null}
              options={Object.entries(codes).map(([code, label]) => ({ value: code, label: `${code} · ${label}` }))}
              onChange={(to: string | undefined) => {
                set(value, to ?? '');
              }}
            />
          )}
        </div>
      ))}
      {open && (
        <datalist id="codes-of-into">
          {Object.entries(codes ?? {}).map(([code, label]) => (
            <option key={code} value={code}>
              {label}
            </option>
          ))}
        </datalist>
      )}
      {more > 0 && <span className="small muted">{t('clean.moreValues', { count: more })}</span>}
      {listed.length === 0 && values.data && <span className="muted">{t('clean.noInterviewHasValue')}</span>}
    </div>
  );
}

/** Pairs that are written by hand: a code and its label, a unit and what it holds. */
function Pairs({
  pairs,
  from,
  mono = false,
  onChange,
}: {
  pairs: Record<string, string>;
  from: string[];
  mono?: boolean;
  onChange: (pairs: Record<string, string>) => void;
}) {
  const lines = [
    ...Object.entries(pairs),
    ...from.filter((key) => !(key in pairs)).map((key): [string, string] => [key, '']),
  ];
  const put = (at: number, key: string, value: string) => {
    const next = lines.map((line, n): [string, string] => (n === at ? [key, value] : line));
    onChange(Object.fromEntries(next.filter(([k, v]) => k !== '' && (v !== '' || !from.includes(k)))));
  };
  return (
    <div className="mapping">
      {lines.map(([key, value], at) => (
        <div key={at} className="row">
          <Input
            size="small"
            className="mono"
            style={{ width: '75%' }}
            value={key}
            aria-label={t('clean.pairKey')}
            onChange={(event) => {
              put(at, event.target.value, value);
            }}
          />
          <Input
            size="small"
            className={mono ? 'mono' : ''}
            value={value}
            aria-label={t('clean.pairValue')}
            onChange={(event) => {
              put(at, key, event.target.value);
            }}
          />
        </div>
      ))}
      <Button
        size="small"
        type="text"
        onClick={() => {
          onChange({ ...pairs, [freeKey(pairs)]: '' });
        }}
      >
        {t('clean.oneMore')}
      </Button>
    </div>
  );
}

function freeKey(pairs: Record<string, string>): string {
  let number = Object.keys(pairs).length + 1;
  while (`code_${String(number)}` in pairs) number += 1;
  return `code_${String(number)}`;
}

interface ClassRow {
  code: string;
  label: string;
  below: number | null;
}

function ClassRows({ value, onChange }: { value: unknown; onChange: (rows: ClassRow[]) => void }) {
  const rows = Array.isArray(value) ? (value as ClassRow[]) : [];
  const put = (at: number, row: Partial<ClassRow>) => {
    onChange(rows.map((old, n) => (n === at ? { ...old, ...row } : old)));
  };
  return (
    <div className="mapping">
      {rows.map((row, at) => (
        <div key={at} className="row">
          <Input
            size="small"
            className="mono"
            placeholder={t('clean.code')}
            value={row.code}
            onChange={(event) => {
              put(at, { code: event.target.value });
            }}
          />
          <Input
            size="small"
            placeholder={t('clean.field_label')}
            value={row.label}
            onChange={(event) => {
              put(at, { label: event.target.value });
            }}
          />
          <InputNumber
            size="small"
            placeholder={t('clean.allTheRest')}
            prefix="<"
            value={row.below}
            onChange={(below) => {
              put(at, { below });
            }}
          />
          <Button
            size="small"
            type="text"
            aria-label={t('clean.removeClass')}
            onClick={() => {
              onChange(rows.filter((_, n) => n !== at));
            }}
          >
            ×
          </Button>
        </div>
      ))}
      <Button
        size="small"
        type="text"
        onClick={() => {
          onChange([...rows, { code: `class_${String(rows.length + 1)}`, label: '', below: null }]);
        }}
      >
        {t('clean.oneMore')}
      </Button>
    </div>
  );
}
