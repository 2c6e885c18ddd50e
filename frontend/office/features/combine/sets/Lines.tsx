// The lines of a recipe: variables derived, rows left out, tables turned.
import { Button, Input, InputNumber, Select } from 'antd';
import { t } from '../../../texts/texts';
import { LineList } from './LineList';
import { put, type Derived, type Made, type Recipe, type Turn, type Wrong } from './recipe';

interface Props {
  recipe: Recipe;
  made: Made | null;
  wrong: Wrong | null;
  onChange: (change: (recipe: Recipe) => Recipe) => void;
}

const tablesIn = (made: Made | null) => (made?.places ?? ['interviews']).map((name) => ({ value: name, label: name }));

const DERIVED: Derived = {
  kind: 'derive',
  into: '',
  table: 'interviews',
  formula: '',
  label: '',
  unit: '',
  codes: {},
  reason: '',
};

export function DerivedLines(props: Props) {
  const { made } = props;
  return (
    <LineList
      {...props}
      part="derived"
      head={t('sets.derived')}
      remove={(number) => t('sets.removeDerived', { number })}
      adds={[{ label: t('sets.addDerived'), line: DERIVED }]}
    >
      {(line, write) => (
        <>
          <Written
            className="mono set-into"
            label={t('sets.newVariable')}
            value={line.into}
            most={32}
            onChange={(text) => {
              write({ ...line, into: text });
            }}
          />
          <span>=</span>
          <Written
            className="mono grow"
            label={t('sets.formula')}
            placeholder="hours * 52"
            value={line.formula}
            most={4000}
            onChange={(text) => {
              write({ ...line, formula: text });
            }}
          />
          <TableWord
            made={made}
            value={line.table}
            onChange={(table) => {
              write({ ...line, table });
            }}
          />
        </>
      )}
    </LineList>
  );
}

export function LeftOutLines(props: Props) {
  const { made } = props;
  return (
    <LineList
      {...props}
      part="left_out"
      head={t('sets.whoIsLeftOut')}
      remove={(number) => t('sets.removeLeftOut', { number })}
      adds={[{ label: t('sets.addLeftOut'), line: { rule: '', table: 'interviews', reason: '' } }]}
    >
      {(line, write) => (
        <>
          <TableWord
            made={made}
            value={line.table}
            onChange={(table) => {
              write({ ...line, table });
            }}
          />
          <Written
            className="mono grow"
            label={t('sets.ruleLeftOut')}
            value={line.rule}
            most={4000}
            onChange={(text) => {
              write({ ...line, rule: text });
            }}
          />
          <Written
            className="set-reason"
            label={t('sets.why')}
            value={line.reason}
            most={1000}
            onChange={(text) => {
              write({ ...line, reason: text });
            }}
          />
        </>
      )}
    </LineList>
  );
}

const LONG: Turn = { how: 'long', table: 'interviews', into: 'rows', columns: { value: [] } };

export function TurnLines(props: Props) {
  const { made } = props;
  const rosters = (made?.places ?? []).filter((name) => name !== 'interviews');
  const wide: Turn[] = rosters.slice(0, 1).map((table) => ({ how: 'wide', table, variables: [], most: 3 }));
  return (
    <LineList
      {...props}
      part="turned"
      head={t('sets.turned')}
      remove={(number) => t('sets.removeTurn', { number })}
      adds={[...wide.map((line) => ({ label: t('sets.addWide'), line })), { label: t('sets.addLong'), line: LONG }]}
    >
      {(turn, write) =>
        turn.how === 'wide' ? (
          <WideLine turn={turn} made={made} rosters={rosters} onChange={write} />
        ) : (
          <LongLine turn={turn} made={made} onChange={write} />
        )
      }
    </LineList>
  );
}

type Wide = Extract<Turn, { how: 'wide' }>;
type Long = Extract<Turn, { how: 'long' }>;

const variablesIn = (made: Made | null, table: string) =>
  (made?.variables ?? [])
    .filter((one) => one.table === table)
    .map((one) => ({ value: one.variable, label: one.variable }));

function WideLine({
  turn,
  made,
  rosters,
  onChange,
}: {
  turn: Wide;
  made: Made | null;
  rosters: string[];
  onChange: (turn: Turn) => void;
}) {
  return (
    <>
      <span className="small">{t('sets.wideFirst')}</span>
      <InputNumber
        size="small"
        className="set-most"
        aria-label={t('sets.wideMost')}
        min={1}
        max={100}
        value={turn.most}
        onChange={(most) => {
          onChange({ ...turn, most: most ?? 1 });
        }}
      />
      <Select
        size="small"
        aria-label={t('sets.roster')}
        value={turn.table}
        options={rosters.map((name) => ({ value: name, label: name }))}
        onChange={(table: string) => {
          onChange({ ...turn, table, variables: [] });
        }}
      />
      <span className="small">{t('sets.wideWith')}</span>
      <Select
        size="small"
        mode="multiple"
        className="grow"
        aria-label={t('sets.variables')}
        placeholder={t('sets.variables')}
        value={turn.variables}
        options={variablesIn(made, turn.table)}
        onChange={(variables: string[]) => {
          onChange({ ...turn, variables });
        }}
      />
    </>
  );
}

function LongLine({ turn, made, onChange }: { turn: Long; made: Made | null; onChange: (turn: Turn) => void }) {
  const lists = Object.entries(turn.columns);
  const rename = (at: number, name: string, taken: string[]) => {
    onChange({ ...turn, columns: Object.fromEntries(put(lists, at, [name, taken])) });
  };
  return (
    <div className="set-long">
      <div className="row">
        <span className="small">{t('sets.longInto')}</span>
        <Written
          className="mono set-into"
          label={t('sets.newRoster')}
          value={turn.into}
          most={32}
          onChange={(text) => {
            onChange({ ...turn, into: text });
          }}
        />
      </div>
      {lists.map(([name, taken], at) => (
        <div className="row" key={at}>
          <Written
            className="mono set-into"
            label={t('sets.newVariable')}
            value={name}
            most={32}
            onChange={(text) => {
              rename(at, text, taken);
            }}
          />
          <span className="small">{t('sets.longTakes')}</span>
          <Select
            size="small"
            mode="multiple"
            className="grow"
            aria-label={t('sets.variables')}
            placeholder={t('sets.variables')}
            value={taken}
            options={variablesIn(made, turn.table)}
            onChange={(next: string[]) => {
              rename(at, name, next);
            }}
          />
        </div>
      ))}
      <Button
        size="small"
        type="text"
        onClick={() => {
          onChange({ ...turn, columns: { ...turn.columns, [`value_${String(lists.length + 1)}`]: [] } });
        }}
      >
        {t('sets.longMore')}
      </Button>
    </div>
  );
}

function Written({
  className,
  label,
  placeholder = label,
  value,
  most,
  onChange,
}: {
  className: string;
  label: string;
  placeholder?: string;
  value: string;
  most: number;
  onChange: (text: string) => void;
}) {
  return (
    <Input
      className={className}
      aria-label={label}
      placeholder={placeholder}
      value={value}
      maxLength={most}
      onChange={(event) => {
        onChange(event.target.value);
      }}
    />
  );
}

function TableWord({ made, value, onChange }: { made: Made | null; value: string; onChange: (table: string) => void }) {
  const tables = tablesIn(made);
  if (tables.length < 2 && value === 'interviews') return null;
  return (
    <Select
      className="set-table"
      aria-label={t('sets.table')}
      value={value}
      options={tables}
      popupMatchSelectWidth={false}
      onChange={onChange}
    />
  );
}
