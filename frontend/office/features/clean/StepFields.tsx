// The fields of a step, each by what it is filled in with.
import { Checkbox, Input, InputNumber, Select } from 'antd';
import type { ReactNode } from 'react';
import { variableChoices, type Variable } from '../data';
import { t } from '../../texts/texts';
import type { Draft, Profile } from './plan';
import type { Field } from './steps';
import { ClassRows, Mapping, Pairs } from './StepLines';
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
