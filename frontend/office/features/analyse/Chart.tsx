import type { Schemas } from '../../../shared/api/client';
import { t } from '../../texts/texts';

/** The last column of the table as points with their intervals. */
export function Chart({ table }: { table: Schemas['ResultTable'] }) {
  const { show } = table.request;
  const lines = table.rows
    .map((row, r) => ({ row, cell: table.cells[r]?.at(-1) }))
    .filter((l) => l.row.value !== '*' && l.cell?.value != null && l.cell.base > 0);
  const highs = lines.map((l) => l.cell?.high ?? l.cell?.value ?? 0);
  const lows = lines.map((l) => l.cell?.low ?? l.cell?.value ?? 0);
  const lowest = Math.min(...lows);
  const highest = Math.max(...highs);
  // Means may be far from nothing; the axis then begins near the lowest interval, and says so.
  const fromNothing = show === 'share' || (lowest > 0 && lowest < highest / 2);
  const span = highest - (fromNothing ? 0 : lowest);
  const step = span > 0 ? Math.min(1, 10 ** Math.floor(Math.log10(span))) : 1;
  const digits = Math.max(0, -Math.log10(step));
  const from = fromNothing ? 0 : Math.floor((lowest - span / 10) / step) * step;
  const to = show === 'share' ? Math.max(0.1, highest) : Math.ceil(highest / step) * step;
  const at = (value: number) => (100 * (value - from)) / (to - from);
  const unit = table.unit === 'interviews' ? t('analyse.unitInterviews') : t('analyse.rowsOf', { unit: table.unit });
  return (
    <figure
      className="chart"
      aria-label={
        show === 'share'
          ? t('analyse.sharesTheir95Intervals', { title: table.title })
          : t('analyse.meansTheir95Intervals', { title: table.title })
      }
    >
      <figcaption>
        <h2>{table.request.across == null ? table.title : t('analyse.all', { variable: table.request.variable })}</h2>
        <span className="muted small">
          {show === 'share' ? t('analyse.sharesWithInterval', { unit }) : t('analyse.meansWithInterval', { unit })}
        </span>
      </figcaption>
      {lines.map(({ row, cell }) => (
        <div key={row.value} className="chart-line">
          <span className="clip" title={row.label}>
            {row.label}
          </span>
          <span className="chart-track">
            <i
              className="chart-span"
              style={{
                insetInlineStart: `${String(at(cell?.low ?? 0))}%`,
                width: `${String(Math.max(0, at(cell?.high ?? 0) - at(cell?.low ?? 0)))}%`,
              }}
            />
            <i className="chart-point" style={{ insetInlineStart: `${String(at(cell?.value ?? 0))}%` }} />
          </span>
        </div>
      ))}
      {lines.length > 0 && (
        <div className="chart-axis muted small">
          <span>{show === 'share' ? `${(100 * from).toFixed(0)} %` : from.toFixed(digits)}</span>
          <span>{show === 'share' ? `${(100 * to).toFixed(0)} %` : to.toFixed(digits)}</span>
        </div>
      )}
    </figure>
  );
}
