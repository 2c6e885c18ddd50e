// How each column of a table is read, with its shape; what cannot be read so is told, and can be read otherwise.
import { useQuery } from '@tanstack/react-query';
import { Alert, Button, Select } from 'antd';
import { useState } from 'react';
import { api, ask } from '../../../shared/api/client';
import { Spark } from '../clean/Shape';
import { Loaded, messageOf } from '../../ui/states';
import { useMay } from '../../ui/study';
import { figure, t } from '../../texts/texts';
import { READ_AS, useAct, type ColumnLook, type Outside, type OutsideColumn } from './outside';

export function Columns({ id, table }: { id: number; table: Outside }) {
  const mayWrite = useMay()('combine.write');
  const path = { questionnaire_id: id, outside_id: table.id };
  const [said, setSaid] = useState<Record<string, OutsideColumn>>({});
  const looks = useQuery({
    queryKey: ['data', id, 'outside', table.id, table.version, 'columns'],
    queryFn: () =>
      ask(api.GET('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/columns', { params: { path } })),
  });
  const keep = useAct(
    id,
    () =>
      ask(
        api.PUT('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/columns', {
          params: { path },
          body: { columns: Object.values(said), version: table.version },
        }),
      ),
    () => {
      setSaid({});
    },
  );
  const changed = Object.keys(said).length;
  return (
    <Loaded query={looks}>
      {(found) => (
        <>
          {keep.error && <Alert type="error" showIcon title={messageOf(keep.error)} />}
          <ColumnTable
            looks={found}
            said={said}
            onSay={
              mayWrite
                ? (column) => {
                    setSaid({ ...said, [column.name]: column });
                  }
                : null
            }
          />
          {changed > 0 && (
            <div className="row">
              <Button
                type="primary"
                loading={keep.isPending}
                onClick={() => {
                  if (!keep.isPending) keep.mutate(undefined);
                }}
              >
                {t('combine.readSo', { count: changed })}
              </Button>
              <Button
                onClick={() => {
                  setSaid({});
                }}
              >
                {t('common.cancel')}
              </Button>
            </div>
          )}
        </>
      )}
    </Loaded>
  );
}

interface Props {
  looks: ColumnLook[];
  said: Record<string, OutsideColumn>;
  onSay: ((column: OutsideColumn) => void) | null;
}

export function ColumnTable({ looks, said, onSay }: Props) {
  return (
    <div className="scroll-x">
      <table className="plain outside-columns">
        <thead>
          <tr>
            <th>{t('combine.column')}</th>
            <th>{t('combine.readAs')}</th>
            <th>{t('combine.shape')}</th>
            <th className="n">{t('combine.filled')}</th>
            <th className="n">{t('combine.different')}</th>
            <th>{t('combine.told')}</th>
          </tr>
        </thead>
        <tbody>
          {looks.map((look) => (
            <ColumnRow
              key={look.column.name}
              look={look}
              column={said[look.column.name] ?? look.column}
              onSay={onSay}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
}

const ORDERS = { ymd: t('combine.orderYmd'), dmy: t('combine.orderDmy'), mdy: t('combine.orderMdy') };
const MARKS = { '.': t('combine.decimalPoint'), ',': t('combine.decimalComma') };

function ColumnRow({ look, column, onSay }: { look: ColumnLook; column: OutsideColumn; onSay: Props['onSay'] }) {
  const choose = <T extends string>(words: Record<T, string>) =>
    (Object.entries(words) as [T, string][]).map(([value, label]) => ({ value, label }));
  return (
    <tr>
      <th scope="row">
        {column.name}
        {column.label !== '' && <div className="muted small">{column.label}</div>}
      </th>
      <td>
        <div className="row">
          <Select
            size="small"
            style={{ width: 118 }}
            disabled={onSay === null}
            aria-label={`${t('combine.readAs')}: ${column.name}`}
            value={column.read_as}
            options={choose(READ_AS)}
            onChange={(read_as) => onSay?.({ ...column, read_as })}
          />
          {column.read_as === 'number' && (column.decimal === ',' || look.doubt === 'decimal' || look.unread > 0) && (
            <Select
              size="small"
              style={{ width: 86 }}
              disabled={onSay === null}
              aria-label={`${t('combine.decimalMark')}: ${column.name}`}
              value={column.decimal}
              options={choose(MARKS)}
              onChange={(decimal) => onSay?.({ ...column, decimal })}
            />
          )}
          {column.read_as === 'date' && (
            <Select
              size="small"
              style={{ width: 132 }}
              disabled={onSay === null}
              aria-label={`${t('combine.dateOrder')}: ${column.name}`}
              value={column.order}
              options={choose(ORDERS)}
              onChange={(order) => onSay?.({ ...column, order })}
            />
          )}
        </div>
      </td>
      <td>
        <Spark bars={look.bars} />
      </td>
      <td className="n">
        {figure(look.values)}
        {look.missing > 0 && <span className="muted small"> + {t('combine.empty', { count: look.missing })}</span>}
      </td>
      <td className="n">{figure(look.distinct)}</td>
      <td className="small">
        <Told look={look} />
      </td>
    </tr>
  );
}

function Told({ look }: { look: ColumnLook }) {
  if (look.unread > 0) {
    return (
      <span className="bad">
        {t('combine.unreadCells', { count: look.unread })} {look.unread_cells.join(', ')}
      </span>
    );
  }
  if (look.doubt === 'decimal') return <span className="doubt">{t('combine.doubtDecimal')}</span>;
  if (look.doubt === 'order') return <span className="doubt">{t('combine.doubtOrder')}</span>;
  if (look.doubt === 'number') return <span className="doubt">{t('combine.doubtNumber')}</span>;
  const { lowest, highest } = look.figures;
  if (lowest != null && highest != null)
    return <span className="muted">{`${figure(lowest)} – ${figure(highest)}`}</span>;
  return (
    <span className="muted clip">
      {look.bars
        .slice(0, 4)
        .map((bar) => bar.label)
        .join(', ')}
    </span>
  );
}
