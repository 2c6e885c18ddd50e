// The combine station: tables from elsewhere, how they join the interviews, what matched and what did not.
import { Button, Segmented } from 'antd';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { Loaded, Empty } from '../../ui/states';
import { useMay, useQuestionnaireId } from '../../ui/study';
import { t } from '../../texts/texts';
import { useDataSets, type NamedSet, type SetSource } from '../dataSets';
import { Beside } from './Beside';
import { BringIn } from './BringIn';
import { CardForm } from './CardForm';
import { Columns } from './Columns';
import './combine.css';
import { JoinPane } from './JoinPane';
import { Rows } from './Rows';
import { useJoins, useOutsides, type Joined, type Outside } from './outside';
import { SourceChecks, useSourceChecks } from './SourceChecks';
import { TableHead } from './TableHead';
import { NewSet, SetPane } from './sets/SetPane';
import './sets/sets.css';

export default function Combine() {
  const id = useQuestionnaireId();
  return id === null ? (
    <div className="page">
      <div className="sheet">
        <Empty title={t('combine.nothingCombineYet')} />
      </div>
    </div>
  ) : (
    <Station key={id} id={id} />
  );
}

function Station({ id }: { id: number }) {
  const tables = useOutsides(id);
  const joins = useJoins(id);
  const sets = useDataSets();
  return (
    <Loaded query={tables}>
      {(found) => (
        <Loaded query={joins}>
          {(joined) => (
            <Loaded query={sets}>
              {(named) => <Tables id={id} tables={found} joins={joined} sets={named.sets} sources={named.sources} />}
            </Loaded>
          )}
        </Loaded>
      )}
    </Loaded>
  );
}

const VIEWS = ['join', 'columns', 'rows', 'beside', 'card'] as const;
type View = (typeof VIEWS)[number];
const CHECKS = 'checks';
const NEW = 'new';
const VIEW_WORDS: Record<View, string> = {
  join: t('combine.viewJoin'),
  columns: t('combine.viewColumns'),
  rows: t('combine.viewRows'),
  beside: t('combine.viewBeside'),
  card: t('combine.viewCard'),
};

interface TablesProps {
  id: number;
  tables: Outside[];
  joins: Joined[];
  sets: NamedSet[];
  sources: SetSource[];
}

function Tables({ id, tables, joins, sets, sources }: TablesProps) {
  const may = useMay();
  const [params, setParams] = useSearchParams();
  const [bringing, setBringing] = useState(false);
  const checks = useSourceChecks(id);
  const onChecks = params.get('table') === CHECKS;
  const chosen = tables.find((table) => String(table.id) === params.get('table')) ?? tables[0];
  const view = VIEWS.find((one) => one === params.get('view')) ?? 'join';
  const go = (name: 'table' | 'view', value: string) => {
    setParams((now) => {
      now.set(name, value);
      now.delete('set');
      return now;
    });
  };
  const set = params.get('set');
  const openSet = sets.find((one) => String(one.id) === set);
  const goToSet = (to: string | null, from?: number) => {
    setParams((now) => {
      if (to === null) now.delete('set');
      else now.set('set', to);
      now.delete('view');
      if (from === undefined) now.delete('from');
      else now.set('from', String(from));
      return now;
    });
  };
  const bring = may('combine.write') && (
    <Button
      type="primary"
      onClick={() => {
        setBringing(true);
      }}
    >
      {t('combine.bringTable')}
    </Button>
  );
  const joinOf = (table: Outside) => joins.find((one) => one.outside_id === table.id) ?? null;
  return (
    <div className="page">
      <div className="page-head">
        <h1>{t('common.combine')}</h1>
        <span className="muted">{t('combine.tablesElsewhereJoinedInterviews')}</span>
        <span className="grow" />
        {bring}
      </div>
      <div className="columns combine">
        <nav className="sheet lines" aria-label={t('combine.parts')}>
          <h2 className="sheet-head">{t('sets.dataSets')}</h2>
          {sets.map((one) => (
            <SetLine
              key={one.id}
              set={one}
              here={one.id === openSet?.id}
              onChoose={() => {
                goToSet(String(one.id));
              }}
            />
          ))}
          {may('combine.write') && (
            <button
              type="button"
              className={`pick-line${set === NEW ? ' here' : ''}`}
              onClick={() => {
                goToSet(NEW);
              }}
            >
              <span>{t('sets.makeAnother')}</span>
            </button>
          )}
          <h2 className="sheet-head">{t('combine.tables')}</h2>
          {tables.length === 0 && <p className="muted small pad">{t('combine.noOutsideTableYet')}</p>}
          {tables.map((table) => (
            <TableLine
              key={table.id}
              table={table}
              joined={joinOf(table)}
              here={set === null && !onChecks && table.id === chosen?.id}
              onChoose={() => {
                go('table', String(table.id));
              }}
            />
          ))}
          {tables.length > 0 && (checks.data !== undefined || may('combine.write')) && (
            <button
              type="button"
              className={`pick-line${set === null && onChecks ? ' here' : ''}`}
              aria-current={set === null && onChecks}
              onClick={() => {
                go('table', CHECKS);
              }}
            >
              <b>{t('combine.sourceChecks')}</b>
              <span className="small muted">
                {t('combine.checksCount', {
                  count: checks.data?.length ?? 0,
                  broken: (checks.data ?? []).filter((one) => (one.found?.rows ?? 0) > 0).length,
                })}
              </span>
            </button>
          )}
        </nav>
        {set === NEW ? (
          <NewSet
            key={params.get('from')}
            from={sets.find((one) => String(one.id) === params.get('from')) ?? null}
            sources={sources}
            onKept={(made) => {
              goToSet(String(made));
            }}
          />
        ) : openSet !== undefined ? (
          <SetPane key={openSet.id} set={openSet} sources={sources} onGo={goToSet} />
        ) : chosen === undefined ? (
          <div className="sheet">
            <Empty title={t('combine.noOutsideTableYet')} action={bring || undefined}>
              {t('combine.csvXlsxFileOne')}
            </Empty>
          </div>
        ) : onChecks ? (
          <SourceChecks id={id} />
        ) : (
          <div className="stack" key={chosen.id}>
            <section className="sheet pad">
              <TableHead id={id} table={chosen} joined={joinOf(chosen)} />
              <Segmented<View>
                value={view}
                options={VIEWS.map((one) => ({ value: one, label: VIEW_WORDS[one] }))}
                onChange={(one) => {
                  go('view', one);
                }}
              />
              {view === 'join' && (
                <JoinPane
                  key={JSON.stringify([chosen.id, chosen.version, joinOf(chosen)?.join])}
                  id={id}
                  table={chosen}
                  joined={joinOf(chosen)}
                />
              )}
              {view === 'columns' && <Columns key={chosen.version} id={id} table={chosen} />}
              {view === 'rows' && <Rows key={chosen.version} id={id} table={chosen} />}
              {view === 'beside' && <Beside key={chosen.version} id={id} table={chosen} joined={joinOf(chosen)} />}
              {view === 'card' && <CardForm id={id} table={chosen} />}
            </section>
          </div>
        )}
      </div>
      {bringing && (
        <BringIn
          id={id}
          again={null}
          onClose={(made) => {
            setBringing(false);
            if (made !== null) go('table', String(made));
          }}
        />
      )}
    </div>
  );
}

function SetLine({ set, here, onChoose }: { set: NamedSet; here: boolean; onChoose: () => void }) {
  const rounds = set.recipe.sources.length;
  return (
    <button type="button" className={`pick-line${here ? ' here' : ''}`} aria-current={here} onClick={onChoose}>
      <b>{set.title}</b>
      <span className="muted small">
        {set.questionnaire_id != null ? t('sets.allInterviews') : t('sets.sourceCount', { count: rounds })}
        {' · '}
        {t('sets.revision', { revision: set.revision })}
      </span>
    </button>
  );
}

function TableLine({
  table,
  joined,
  here,
  onChoose,
}: {
  table: Outside;
  joined: Joined | null;
  here: boolean;
  onChoose: () => void;
}) {
  const report = joined?.report ?? null;
  return (
    <button type="button" className={`pick-line${here ? ' here' : ''}`} aria-current={here} onClick={onChoose}>
      <b>{table.name}</b>
      <span className="muted small clip">
        {t('combine.fileRows', { file_name: table.file_name, count: table.rows })}
      </span>
      {report !== null ? (
        <span className="small">
          {t('combine.joinedMatched', { matched: report.matched, rows: report.rows })}
          {report.doubtful > 0 && (
            <span className="doubt"> · {t('combine.doubtfulCount', { count: report.doubtful })}</span>
          )}
        </span>
      ) : (
        <span className="small doubt">{joined?.problem ? t('combine.noLongerFits') : t('combine.notJoinedYet')}</span>
      )}
    </button>
  );
}
