// Rows of a table as texts, page by page.
import { Pagination } from 'antd';
import type { ReactNode } from 'react';
import { t } from '../../texts/texts';

interface Props {
  label: string;
  heads: ReactNode;
  /** The rows of the page, each a line of the table. */
  children: ReactNode[];
  page: number;
  size: number;
  total: number;
  onPage: (page: number) => void;
}

export const RowsTable = ({ label, heads, children, page, size, total, onPage }: Props) => (
  <>
    <div className="scroll-x outside-rows" role="region" aria-label={label} tabIndex={0}>
      <table className="plain">
        <thead>
          <tr>{heads}</tr>
        </thead>
        <tbody>{children}</tbody>
      </table>
      {children.length === 0 && <p className="muted pad">{t('combine.noRows')}</p>}
    </div>
    {total > size && (
      <Pagination size="small" current={page} pageSize={size} total={total} showSizeChanger={false} onChange={onPage} />
    )}
  </>
);
