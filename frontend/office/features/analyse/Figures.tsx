import type { Schemas } from '../../../shared/api/client';
import { figure, t } from '../../texts/texts';

export interface Chosen {
  row: number;
  column: number;
}

type Table = Schemas['ResultTable'];
type Cell = Schemas['Cell'];
const FEWEST = 8;

export function figureOf(cell: Cell, show: string): string {
  if (cell.value == null) return '–';
  return show === 'share'
    ? `${(100 * cell.value).toFixed(Math.max(1, shareDigits(cell)))} %`
    : cell.value.toFixed(digitsOf(cell));
}

/** As many digits of a mean as its margin has two of; one at least. */
function digitsOf(cell: Cell): number {
  const margin = ((cell.high ?? 0) - (cell.low ?? 0)) / 2;
  return margin > 0 ? Math.min(6, Math.max(1, 1 - Math.floor(Math.log10(margin)))) : 1;
}

/** As many digits of a percentage as its margin has one of: of many cases the ends would be the same otherwise. */
function shareDigits(cell: Cell): number {
  const margin = 50 * ((cell.high ?? 0) - (cell.low ?? 0));
  return margin > 0 ? Math.min(4, Math.max(0, -Math.floor(Math.log10(margin)))) : 0;
}

/** The margin as a person reads it: half the interval for means, the interval itself for shares, which is not even. */
export function marginOf(cell: Cell, show: string): string {
  if (cell.low == null || cell.high == null) return '';
  if (show === 'share') {
    const digits = shareDigits(cell);
    return `${(100 * cell.low).toFixed(digits)} – ${(100 * cell.high).toFixed(digits)}`;
  }
  return `± ${((cell.high - cell.low) / 2).toFixed(digitsOf(cell))}`;
}

/** A margin above a fifth of a mean, or a share of few cases, is set in brackets. */
function uncertain(cell: Cell, show: string): boolean {
  if (cell.value == null || cell.low == null || cell.high == null) return false;
  return show === 'mean' ? (cell.high - cell.low) / 2 > Math.abs(cell.value) / 5 : cell.base < 3 * FEWEST;
}

/** The table itself: every figure with its margin, and the base of each row or column. */
export function Figures({
  table,
  chosen,
  onChoose,
}: {
  table: Table;
  chosen: Chosen | null;
  onChoose: (chosen: Chosen) => void;
}) {
  const { show } = table.request;
  return (
    <div className="scroll-x">
      <table className="figures">
        <thead>
          <tr>
            <th scope="col">{table.request.show === 'mean' ? (table.request.by ?? '') : table.request.variable}</th>
            {table.columns.map((c) => (
              <th key={c.value} scope="col" className="n">
                {c.label}
              </th>
            ))}
            {show === 'mean' && (
              <th scope="col" className="n">
                {t('analyse.base')}
              </th>
            )}
          </tr>
        </thead>
        <tbody>
          {table.rows.map((row, r) => (
            <tr key={row.value} className={row.value === '*' ? 'total' : row.special ? 'special' : ''}>
              <th scope="row">{row.label}</th>
              {(table.cells[r] ?? []).map((cell, c) => {
                const few = show === 'mean' && cell.base < FEWEST;
                const text = few ? '–' : figureOf(cell, show);
                const here = chosen?.row === r && chosen.column === c;
                return (
                  <td key={c} className="n">
                    <button
                      type="button"
                      className={here ? 'figure-cell here' : 'figure-cell'}
                      aria-pressed={here}
                      disabled={cell.count === 0}
                      onClick={() => {
                        onChoose({ row: r, column: c });
                      }}
                    >
                      <span>{!few && uncertain(cell, show) ? `(${text})` : text}</span>
                      <small>
                        {few
                          ? cell.base === 0
                            ? t('analyse.none')
                            : t('analyse.only', { base: cell.base })
                          : show === 'share'
                            ? `${marginOf(cell, show)} · ${figure(cell.count)}`
                            : marginOf(cell, show)}
                      </small>
                    </button>
                  </td>
                );
              })}
              {show === 'mean' && <td className="n base">{figure(table.cells[r]?.at(-1)?.base ?? 0)}</td>}
            </tr>
          ))}
          {show === 'share' && (
            <tr className="total">
              <th scope="row">{t('analyse.base')}</th>
              {table.columns.map((c, i) => (
                <td key={c.value} className="n base">
                  {figure(table.cells[0]?.[i]?.base ?? 0)}
                </td>
              ))}
            </tr>
          )}
        </tbody>
      </table>
    </div>
  );
}

/** A chosen figure, and how the server is asked what is behind it. */
export function figureAt(table: Schemas['ResultTable'], chosen: Chosen) {
  const row = table.rows[chosen.row];
  const column = table.columns[chosen.column];
  const cell = table.cells[chosen.row]?.[chosen.column];
  return { row, column, cell, body: { request: table.request, row: row?.value ?? '*', column: column?.value ?? '*' } };
}

export function FigureHead({ table, chosen }: { table: Schemas['ResultTable']; chosen: Chosen }) {
  const { row, column, cell } = figureAt(table, chosen);
  if (!row || !column || !cell) return null;
  return (
    <h2>
      {figureOf(cell, table.request.show)} · {row.label}
      {column.value === '*' ? '' : ` ${t('analyse.inColumn', { label: column.label })}`}
    </h2>
  );
}
