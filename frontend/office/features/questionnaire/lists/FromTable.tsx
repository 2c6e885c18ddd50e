// Codes from a file or an outside table: which column is what, and what comes of it, before anything is changed.
import { useQuery } from '@tanstack/react-query';
import { Alert, Checkbox, Input, Modal, Segmented, Select, Upload } from 'antd';
import { useEffect, useMemo, useState } from 'react';
import type { Schemas } from '../../../../shared/api/client';
import { languageName } from '../../../../shared/interview/languages';
import { t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';
import { newCodeList, type CodeList, type Script } from '../script/model';
import { freeListName } from './newLists';
import type { ListTable, Lists, Table } from './useLists';

/** `update` brings the list in hand up to date, from its table or from a file. */
export type Source = 'file' | 'outside' | 'update';

interface Props {
  source: Source;
  present: CodeList | null;
  lists: Lists;
  script: Script;
  onClose: () => void;
  onTake: (made: CodeList[]) => void;
}

export function FromTable({ source, present, lists, script, onClose, onTake }: Props) {
  const [table, setTable] = useState<Table | null>(null);
  const [name, setName] = useState(present?.name ?? '');
  const [shape, setShape] = useState<'one' | 'tree'>('one');
  const [made, setMade] = useState<CodeList[] | null>(null);
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  const take = async (read: () => Promise<Table>, called: string) => {
    setBusy(true);
    setProblem('');
    try {
      const found = await read();
      const kept = present?.table;
      setTable(kept && kept.name === found.table.name ? { ...found, table: kept } : found);
      if (!present) setName(freeListName(script, variableOf(called)));
    } catch (error) {
      setProblem(messageOf(error));
    }
    setBusy(false);
  };
  const fromOutside = source === 'outside' || (source === 'update' && present?.table != null);
  return (
    <Modal
      open
      width={920}
      title={
        present
          ? t('lists.updateTitle', { name: present.name })
          : fromOutside
            ? t('lists.fromOutside')
            : t('lists.fromFile')
      }
      okText={present ? t('lists.bringUpToDate') : t('lists.takeLists', { count: made?.length ?? 0 })}
      okButtonProps={{ disabled: made === null || made.length === 0 }}
      onCancel={onClose}
      onOk={() => {
        if (made) onTake(made);
      }}
    >
      {fromOutside ? (
        <OutsideChoice
          lists={lists}
          chosen={table?.table.name ?? present?.table?.name ?? null}
          begin={present?.table?.name ?? null}
          onChoose={(outside) => {
            void take(() => lists.readOutside(outside, script.languages), outside);
          }}
        />
      ) : (
        <Upload.Dragger
          accept=".csv,.xlsx"
          showUploadList={false}
          disabled={busy}
          beforeUpload={(file) => {
            void take(() => lists.readFile(file, script.languages), file.name.replace(/\.\w+$/, ''));
            return false;
          }}
        >
          <p>{busy ? t('questionnaire.reading2') : t('lists.dropFile')}</p>
        </Upload.Dragger>
      )}
      {problem !== '' && <Alert type="error" showIcon title={problem} style={{ marginTop: 12 }} />}
      {table && (
        <>
          <div className="row" style={{ margin: '12px 0' }}>
            {!present && (
              <>
                <Segmented<'one' | 'tree'>
                  value={shape}
                  onChange={(to) => {
                    setMade(null);
                    setShape(to);
                  }}
                  options={[
                    { value: 'one', label: t('lists.oneList') },
                    { value: 'tree', label: t('lists.treeOfLists') },
                  ]}
                />
                {shape === 'one' && (
                  <Input
                    className="mono"
                    style={{ width: 220 }}
                    aria-label={t('common.name')}
                    prefix={<span className="muted small">{t('common.name')}</span>}
                    value={name}
                    onChange={(event) => {
                      setName(variableOf(event.target.value));
                    }}
                  />
                )}
              </>
            )}
            <span className="muted small">{t('lists.rowsRead', { count: table.rows.length })}</span>
          </div>
          {shape === 'one' ? (
            <OneList
              key={table.table.name}
              table={table}
              present={present}
              name={name}
              lists={lists}
              script={script}
              onMade={setMade}
            />
          ) : (
            <TreeOfLists table={table} lists={lists} script={script} onMade={setMade} />
          )}
          <Glance table={table} />
        </>
      )}
    </Modal>
  );
}

const variableOf = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9_]+/g, '_')
    .replace(/^[^a-z]+/, '')
    .slice(0, 32);

function OutsideChoice({
  lists,
  chosen,
  begin,
  onChoose,
}: {
  lists: Lists;
  chosen: string | null;
  /** The table that is read at once. */
  begin: string | null;
  onChoose: (name: string) => void;
}) {
  const tables = useQuery({ queryKey: ['list tables'], queryFn: lists.tables, staleTime: 0 });
  useEffect(() => {
    if (begin !== null) onChoose(begin);
    // Once, when the dialog opens.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  if (tables.data?.length === 0) return <p className="muted">{t('lists.noOutside')}</p>;
  return (
    <Select
      style={{ width: 360 }}
      aria-label={t('lists.outsideTable')}
      placeholder={t('lists.outsideTable')}
      loading={tables.isLoading}
      value={chosen}
      options={tables.data?.map((o) => ({
        value: o.name,
        label: `${o.name} · ${t('lists.rowsRead', { count: o.rows })}`,
      }))}
      onChange={onChoose}
    />
  );
}

interface MadeProps {
  table: Table;
  lists: Lists;
  script: Script;
  onMade: (made: CodeList[] | null) => void;
}

function OneList({
  table,
  present,
  name,
  lists,
  script,
  onMade,
}: MadeProps & { present: CodeList | null; name: string }) {
  const [how, setHow] = useState<ListTable>(table.table);
  const [drop, setDrop] = useState(false);
  const options = [{ value: '', label: t('lists.noColumn') }, ...table.columns.map((c) => ({ value: c, label: c }))];
  const base = useMemo(() => present ?? newCodeList(name), [present, name]);
  const first = script.languages[0] ?? 'en';
  const found = useQuery({
    queryKey: ['list from table', base, how, drop, table.columns, table.rows.length],
    queryFn: () => lists.updating(base, table, how, drop),
    enabled: (how.labels[first] ?? '') !== '' || how.code !== '',
    placeholderData: (before) => before,
  });
  useEffect(() => {
    onMade(found.data && name !== '' ? [{ ...found.data.code_list, name }] : null);
  }, [found.data, name, onMade]);
  const label = (tag: string, column: string) => {
    const labels = { ...how.labels, [tag]: column };
    setHow({ ...how, labels: Object.fromEntries(Object.entries(labels).filter(([, from]) => from !== '')) });
  };
  return (
    <>
      <div className="column-choices">
        <Choice
          label={t('lists.columnCode')}
          options={options}
          value={how.code}
          hint={how.code === '' ? t('lists.codeFromLabel') : ''}
          onChange={(code) => {
            setHow({ ...how, code });
          }}
        />
        {script.languages.map((tag) => (
          <Choice
            key={tag}
            label={t('lists.columnLabel', { language: languageName(tag) })}
            options={options}
            value={how.labels[tag] ?? ''}
            onChange={(column) => {
              label(tag, column);
            }}
          />
        ))}
        <label>
          <span>{t('lists.columnAttributes')}</span>
          <Select
            mode="multiple"
            value={how.attributes}
            options={table.columns.map((c) => ({ value: c, label: c, disabled: !/^[a-z][a-z0-9_]*$/.test(c) }))}
            onChange={(attributes: string[]) => {
              setHow({ ...how, attributes });
            }}
          />
        </label>
      </div>
      {found.error && <Alert type="error" showIcon title={found.error.message} />}
      {found.data && <UpdateTold told={found.data} present={present} drop={drop} onDrop={setDrop} />}
    </>
  );
}

const MOST_TOLD = 8;
const some = (names: string[]): string => names.slice(0, MOST_TOLD).join(', ') + (names.length > MOST_TOLD ? ' …' : '');

function UpdateTold({
  told,
  present,
  drop,
  onDrop,
}: {
  told: Schemas['ListUpdateOut'];
  present: CodeList | null;
  drop: boolean;
  onDrop: (drop: boolean) => void;
}) {
  return (
    <ul className="told-list">
      <li>
        <b>{t('lists.toldAdded', { count: told.added.length })}</b>{' '}
        <span className="muted small mono">{some(told.added)}</span>
      </li>
      {present && (
        <li>
          <b>{t('lists.toldChanged', { count: told.changed.length })}</b>
          {told.changed.slice(0, MOST_TOLD).map((c) => (
            <div key={c.code} className="small">
              <code>{c.code}</code> <s>{c.before}</s> → {c.after}
            </div>
          ))}
        </li>
      )}
      {told.missing.length > 0 && (
        <li>
          <b>{t('lists.toldMissing', { count: told.missing.length })}</b>{' '}
          <span className="muted small mono">{some(told.missing)}</span>
          <br />
          <Checkbox
            checked={drop}
            onChange={(event) => {
              onDrop(event.target.checked);
            }}
          >
            {t('lists.dropMissing')}
          </Checkbox>
        </li>
      )}
      {told.doubtful.length > 0 && (
        <li>
          <b className="doubt">{t('lists.toldDoubtful', { count: told.doubtful.length })}</b>
          {told.doubtful.slice(0, MOST_TOLD).map((d) => (
            <div key={d.row} className="small">
              {t('lists.rowSays', { row: d.row })} {d.message}
            </div>
          ))}
        </li>
      )}
    </ul>
  );
}

function Choice({
  label,
  options,
  value,
  hint = '',
  onChange,
}: {
  label: string;
  options: { value: string; label: string }[];
  value: string;
  hint?: string;
  onChange: (value: string) => void;
}) {
  return (
    <label>
      <span>{label}</span>
      <Select showSearch value={value} options={options} aria-label={label} onChange={onChange} />
      {hint !== '' && <span className="muted small">{hint}</span>}
    </label>
  );
}

/** Each chosen column is a level: the widest on the left. */
function TreeOfLists({ table, lists, script, onMade }: MadeProps) {
  const [columns, setColumns] = useState<string[]>([]);
  const language = script.languages[0] ?? 'en';
  const levels = columns.reduce<Schemas['Level'][]>((before, label) => {
    const taken = { ...script, code_lists: [...script.code_lists, ...before.map((l) => newCodeList(l.name))] };
    return [...before, { name: freeListName(taken, variableOf(label)), label, code: '' }];
  }, []);
  const found = useQuery({
    queryKey: ['lists of levels', columns, table.rows.length],
    queryFn: () => lists.levels(table, levels, language),
    enabled: columns.length > 0,
    placeholderData: (before) => before,
  });
  useEffect(() => {
    onMade(columns.length > 0 ? (found.data ?? null) : null);
  }, [columns.length, found.data, onMade]);
  return (
    <>
      <div className="column-choices">
        <label className="wide">
          <span>{t('lists.levels')}</span>
          <Select
            mode="multiple"
            value={columns}
            placeholder={t('lists.levelsPlaceholder')}
            options={table.columns.map((c) => ({ value: c, label: c }))}
            onChange={setColumns}
          />
        </label>
      </div>
      {columns.length > 0 && found.data && (
        <p>
          {found.data.map((list, i) => (
            <span key={list.name}>
              {i > 0 && ' → '}
              <code>{list.name}</code> {t('questionnaire.codesCount', { count: list.codes.length })}
            </span>
          ))}
        </p>
      )}
    </>
  );
}

const MOST_GLANCED = 5;

function Glance({ table }: { table: Table }) {
  return (
    <div className="table-glance">
      <table className="codes-table">
        <thead>
          <tr>
            {table.columns.map((column) => (
              <th key={column}>{column}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {table.rows.slice(0, MOST_GLANCED).map((row, i) => (
            <tr key={i}>
              {table.columns.map((column, c) => (
                <td key={column}>{row[c]}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
