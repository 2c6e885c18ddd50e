// The rows of a table as they came.
import { useQuery } from '@tanstack/react-query';
import { Input } from 'antd';
import { useDeferredValue, useState } from 'react';
import { api, ask } from '../../../shared/api/client';
import { Loaded } from '../../ui/states';
import { t } from '../../texts/texts';
import type { Outside } from './outside';
import { RowsTable } from './RowsTable';

const PAGE = 200;

export function Rows({ id, table }: { id: number; table: Outside }) {
  const [like, setLike] = useState('');
  const [page, setPage] = useState(1);
  const asked = useDeferredValue(like);
  const rows = useQuery({
    queryKey: ['data', id, 'outside', table.id, table.version, 'rows', asked, page],
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/rows', {
          params: {
            path: { questionnaire_id: id, outside_id: table.id },
            query: { like: asked, offset: (page - 1) * PAGE },
          },
        }),
      ),
    placeholderData: (before) => before,
  });
  return (
    <>
      <Input
        allowClear
        className="find-rows"
        placeholder={t('combine.findRows')}
        aria-label={t('combine.findRows')}
        value={like}
        onChange={(event) => {
          setPage(1);
          setLike(event.target.value);
        }}
      />
      <Loaded query={rows}>
        {(found) => (
          <RowsTable
            label={t('combine.viewRows')}
            heads={['', ...found.columns].map((name, at) =>
              at === 0 ? (
                <th className="n" key="row">
                  {t('combine.row')}
                </th>
              ) : (
                <th key={name}>{name}</th>
              ),
            )}
            page={page}
            size={PAGE}
            total={found.total}
            onPage={setPage}
          >
            {found.rows.map((row, at) => (
              <tr key={found.numbers[at]}>
                <td className="n muted">{found.numbers[at]}</td>
                {row.map((cell, place) => (
                  <td key={found.columns[place]}>{cell ?? <span className="muted">–</span>}</td>
                ))}
              </tr>
            ))}
          </RowsTable>
        )}
      </Loaded>
    </>
  );
}
