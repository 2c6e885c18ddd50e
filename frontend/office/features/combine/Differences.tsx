// A table that is brought in again: by which key its rows are known, and what that would change.
import { useQuery } from '@tanstack/react-query';
import { Alert, Button, Select } from 'antd';
import { useState } from 'react';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { messageOf } from '../../ui/states';
import { t } from '../../texts/texts';
import { useAct, useJoins, type Outside } from './outside';

type File = Schemas['LookIn'];

interface Props {
  id: number;
  table: Outside;
  file: File;
  onClose: (made: number | null) => void;
}

export function Differences({ id, table, file, onClose }: Props) {
  const joins = useJoins(id);
  const joined = joins.data?.find((one) => one.outside_id === table.id)?.join ?? null;
  const names = (file.columns ?? []).map((column) => column.name);
  const shared = table.columns.map((column) => column.name).filter((name) => names.includes(name));
  const [chosen, setChosen] = useState<string[] | null>(null);
  const key = chosen ?? joined?.keys.map((pair) => pair.theirs).filter((name) => shared.includes(name)) ?? [];
  const path = { questionnaire_id: id, outside_id: table.id };
  const body = { ...file, key, version: table.version };
  const differences = useQuery({
    queryKey: ['outside differences', id, table.id, body],
    queryFn: () =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/differences', { params: { path }, body }),
      ),
    enabled: key.length > 0,
    retry: false,
  });
  const keep = useAct(
    id,
    () => ask(api.PUT('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/file', { params: { path }, body })),
    () => {
      onClose(table.id);
    },
  );
  const found = differences.data;
  const failed = differences.error ?? keep.error;
  return (
    <section className="differences">
      <label className="row">
        {t('combine.rowsKnownBy')}
        <Select
          mode="multiple"
          style={{ minWidth: 260 }}
          value={key}
          options={shared.map((value) => ({ value, label: value }))}
          onChange={setChosen}
        />
      </label>
      {failed && <Alert type="error" showIcon title={messageOf(failed)} />}
      {found && (
        <>
          <p>
            {t('combine.differing', {
              new: found.new,
              gone: found.gone,
              changed: found.changed,
              cells: found.changed_cells,
              same: found.same,
            })}{' '}
            {found.repeated > 0 && (
              <span className="doubt">{t('combine.repeatedKeys', { count: found.repeated })}</span>
            )}
          </p>
          {(found.columns_new.length > 0 || found.columns_gone.length > 0) && (
            <p className="doubt">
              {t('combine.columnsDiffer', {
                added: found.columns_new.join(', ') || t('common.nothing'),
                gone: found.columns_gone.join(', ') || t('common.nothing'),
              })}
            </p>
          )}
          {found.cells.length > 0 && (
            <div className="scroll-x outside-rows short">
              <table className="plain">
                <thead>
                  <tr>
                    <th>{t('combine.key')}</th>
                    <th>{t('combine.column')}</th>
                    <th>{t('combine.before')}</th>
                    <th>{t('combine.after')}</th>
                  </tr>
                </thead>
                <tbody>
                  {found.cells.map((cell) => (
                    <tr key={`${cell.key} ${cell.column}`}>
                      <td className="mono">{cell.key}</td>
                      <td>{cell.column}</td>
                      <td>{cell.before ?? '–'}</td>
                      <td>{cell.after ?? '–'}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          )}
          {found.gone_keys.length > 0 && (
            <p className="small muted clip">
              {t('combine.goneKeys', { keys: found.gone_keys.slice(0, 12).join(', ') })}
            </p>
          )}
        </>
      )}
      <div className="row look-foot">
        <span className="muted small">{t('combine.againMeans')}</span>
        <span className="grow" />
        <Button
          type="primary"
          disabled={!found}
          loading={keep.isPending}
          onClick={() => {
            if (!keep.isPending) keep.mutate(undefined);
          }}
        >
          {t('combine.putInPlace')}
        </Button>
      </div>
    </section>
  );
}
