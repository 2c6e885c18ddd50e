// Cells that a step, or another state of the plan, has otherwise.
import type { Schemas } from '../../../shared/api/client';
import { MISSING } from '../data';

type Cell = Pick<
  Schemas['ChangeOut'],
  'table' | 'interview' | 'row' | 'variable' | 'before' | 'before_why' | 'after' | 'after_why'
>;

/** What stands in a cell, or which kind of nothing. */
export const cellText = (value: string | null, why: string | null): string =>
  why !== null ? (MISSING[why] ?? why) : (value ?? '');

/** `named`: the variable is told of each. */
export function CellRows({ cells, named = false }: { cells: Cell[]; named?: boolean }) {
  return (
    <table className="trial-cells">
      <tbody>
        {cells.map((c) => (
          <tr key={`${c.table}.${c.interview}.${c.row.join('.')}.${c.variable}`}>
            <td className="mono">{[c.interview, ...c.row].join(' / ')}</td>
            {named && <td className="mono">{c.variable}</td>}
            <td>
              <s className="muted">{cellText(c.before, c.before_why)}</s>
            </td>
            <td>
              <b>{cellText(c.after, c.after_why)}</b>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
