// The lines of a recipe: variables derived, rows left out, tables turned.
import { Button, Input, InputNumber, Select } from 'antd';
import { t } from '../../../texts/texts';
import {
  placeOf,
  put,
  without,
  type Derived,
  type LeavesOut,
  type Made,
  type Recipe,
  type Turn,
  type Wrong,
} from './recipe';

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

export function DerivedLines({ recipe, made, wrong, onChange }: Props) {
  const bad = placeOf(recipe, wrong, 'derived');
  const change = (lines: (now: Derived[]) => Derived[]) => {
    onChange((now) => ({ ...now, derived: lines(now.derived) }));
  };
  return (
    <section>
      <h3>{t('sets.derived')}</h3>
      {recipe.derived.map((line, at) => {
        const write = (part: Partial<Derived>) => {
          change((now) => put(now, at, { ...line, ...part }));
        };
        return (
          <Line
            key={at}
            wrong={bad === at ? wrong : null}
            remove={t('sets.removeDerived', { number: at + 1 })}
            onRemove={() => {
              change((now) => without(now, at));
            }}
          >
            <Input
              className="mono set-into"
              aria-label={t('sets.newVariable')}
              placeholder={t('sets.newVariable')}
              value={line.into}
              maxLength={32}
              onChange={(event) => {
                write({ into: event.target.value });
              }}
            />
            <span>=</span>
            <Input
              className="mono grow"
              aria-label={t('sets.formula')}
              placeholder="hours * 52"
              value={line.formula}
              maxLength={4000}
              onChange={(event) => {
                write({ formula: event.target.value });
              }}
            />
            <TableWord
              made={made}
              value={line.table}
              onChange={(table) => {
                write({ table });
              }}
            />
          </Line>
        );
      })}
      <Button
        size="small"
        onClick={() => {
          change((now) => [...now, DERIVED]);
        }}
      >
        {t('sets.addDerived')}
      </Button>
    </section>
  );
}

export function LeftOutLines({ recipe, made, wrong, onChange }: Props) {
  const bad = placeOf(recipe, wrong, 'left_out');
  const change = (lines: (now: LeavesOut[]) => LeavesOut[]) => {
    onChange((now) => ({ ...now, left_out: lines(now.left_out) }));
  };
  return (
    <section>
      <h3>{t('sets.whoIsLeftOut')}</h3>
      {recipe.left_out.map((line, at) => {
        const write = (part: Partial<LeavesOut>) => {
          change((now) => put(now, at, { ...line, ...part }));
        };
        return (
          <Line
            key={at}
            wrong={bad === at ? wrong : null}
            remove={t('sets.removeLeftOut', { number: at + 1 })}
            onRemove={() => {
              change((now) => without(now, at));
            }}
          >
            <TableWord
              made={made}
              value={line.table}
              onChange={(table) => {
                write({ table });
              }}
            />
            <Input
              className="mono grow"
              aria-label={t('sets.ruleLeftOut')}
              placeholder={t('sets.ruleLeftOut')}
              value={line.rule}
              maxLength={4000}
              onChange={(event) => {
                write({ rule: event.target.value });
              }}
            />
            <Input
              className="set-reason"
              aria-label={t('sets.why')}
              placeholder={t('sets.why')}
              value={line.reason}
              maxLength={1000}
              onChange={(event) => {
                write({ reason: event.target.value });
              }}
            />
          </Line>
        );
      })}
      <Button
        size="small"
        onClick={() => {
          change((now) => [...now, { rule: '', table: 'interviews', reason: '' }]);
        }}
      >
        {t('sets.addLeftOut')}
      </Button>
    </section>
  );
}

export function TurnLines({ recipe, made, wrong, onChange }: Props) {
  const bad = placeOf(recipe, wrong, 'turned');
  const change = (lines: (now: Turn[]) => Turn[]) => {
    onChange((now) => ({ ...now, turned: lines(now.turned) }));
  };
  const rosters = (made?.places ?? []).filter((name) => name !== 'interviews');
  const first = rosters[0];
  return (
    <section>
      <h3>{t('sets.turned')}</h3>
      {recipe.turned.map((turn, at) => {
        const write = (next: Turn) => {
          change((now) => put(now, at, next));
        };
        return (
          <Line
            key={at}
            wrong={bad === at ? wrong : null}
            remove={t('sets.removeTurn', { number: at + 1 })}
            onRemove={() => {
              change((now) => without(now, at));
            }}
          >
            {turn.how === 'wide' ? (
              <WideLine turn={turn} made={made} rosters={rosters} onChange={write} />
            ) : (
              <LongLine turn={turn} made={made} onChange={write} />
            )}
          </Line>
        );
      })}
      <div className="row">
        {first !== undefined && (
          <Button
            size="small"
            onClick={() => {
              change((now) => [...now, { how: 'wide', table: first, variables: [], most: 3 }]);
            }}
          >
            {t('sets.addWide')}
          </Button>
        )}
        <Button
          size="small"
          onClick={() => {
            change((now) => [...now, { how: 'long', table: 'interviews', into: 'rows', columns: { value: [] } }]);
          }}
        >
          {t('sets.addLong')}
        </Button>
      </div>
    </section>
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
        <Input
          size="small"
          className="mono set-into"
          aria-label={t('sets.newRoster')}
          value={turn.into}
          maxLength={32}
          onChange={(event) => {
            onChange({ ...turn, into: event.target.value });
          }}
        />
      </div>
      {lists.map(([name, taken], at) => (
        <div className="row" key={at}>
          <Input
            size="small"
            className="mono set-into"
            aria-label={t('sets.newVariable')}
            value={name}
            maxLength={32}
            onChange={(event) => {
              rename(at, event.target.value, taken);
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

function Line({
  wrong,
  remove,
  onRemove,
  children,
}: {
  wrong: Wrong | null;
  remove: string;
  onRemove: () => void;
  children: React.ReactNode;
}) {
  return (
    <div className="set-line">
      <div className="row">
        {children}
        <Button size="small" type="text" aria-label={remove} onClick={onRemove}>
          ×
        </Button>
      </div>
      {wrong && <p className="bad small">{wrong.words}</p>}
    </div>
  );
}
