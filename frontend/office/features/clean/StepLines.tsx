// Fields of a step that hold many lines: what each value becomes, pairs written by hand, classes.
import { Button, Input, InputNumber, Select } from 'antd';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, ask } from '../../../shared/api/client';
import { t } from '../../texts/texts';

/** What each value becomes; what is not named stays. `codes` null: any text will do; `open`: a new code may be written. */
export function Mapping({
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
export function Pairs({
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

export function ClassRows({ value, onChange }: { value: unknown; onChange: (rows: ClassRow[]) => void }) {
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
