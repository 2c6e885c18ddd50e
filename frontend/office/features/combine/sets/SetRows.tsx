// The rows of a data set, table by table.
import { useQuery } from '@tanstack/react-query';
import { Segmented } from 'antd';
import { useState } from 'react';
import { api, ask } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { Loaded } from '../../../ui/states';
import type { NamedSet } from '../../dataSets';
import { RowsTable } from '../RowsTable';
import type { Made } from './recipe';

const PAGE = 100;

export function SetRows({ set, made }: { set: NamedSet; made: Made }) {
  const [table, setTable] = useState(made.tables[0]?.name ?? '');
  const [page, setPage] = useState(1);
  const rows = useQuery({
    queryKey: ['data set', set.id, 'rows', set.version, table, page],
    queryFn: () =>
      ask(
        api.GET('/api/data-sets/{data_set_id}/rows', {
          params: { path: { data_set_id: set.id }, query: { table, offset: (page - 1) * PAGE } },
        }),
      ),
    placeholderData: (before) => before,
    enabled: table !== '',
  });
  return (
    <>
      {made.tables.length > 1 && (
        <Segmented
          value={table}
          options={made.tables.map((one) => ({ value: one.name, label: `${one.name} ${one.rows.toLocaleString()}` }))}
          onChange={(one) => {
            setTable(one);
            setPage(1);
          }}
        />
      )}
      <Loaded query={rows}>
        {(found) => (
          <RowsTable
            label={t('sets.viewRows')}
            heads={found.columns.map((name, at) => (
              <th key={name} title={found.labels[at]}>
                {name}
              </th>
            ))}
            page={page}
            size={PAGE}
            total={found.total}
            onPage={setPage}
          >
            {found.rows.map((row, line) => (
              <tr key={line}>
                {row.map((cell, at) => (
                  <td key={found.columns[at]}>
                    {cell === null || cell.startsWith('[') ? <span className="muted">{cell ?? '–'}</span> : cell}
                  </td>
                ))}
              </tr>
            ))}
          </RowsTable>
        )}
      </Loaded>
    </>
  );
}
