import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useStudy } from '../../ui/StudyFrame';
import { Loaded } from '../../ui/states';
import { figureOf, marginOf, type Chosen } from './Figures';

/** The way back from a figure: interviews, cleaning, wording. */
export function BehindFigure({
  questionnaireId,
  table,
  chosen,
}: {
  questionnaireId: number;
  table: Schemas['ResultTable'];
  chosen: Chosen;
}) {
  const study = useStudy();
  const row = table.rows[chosen.row];
  const column = table.columns[chosen.column];
  const cell = table.cells[chosen.row]?.[chosen.column];
  const body = { request: table.request, row: row?.value ?? '*', column: column?.value ?? '*' };
  const behind = useQuery({
    queryKey: ['data', questionnaireId, 'behind', body],
    queryFn: () =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/table/behind', {
          params: { path: { questionnaire_id: questionnaireId } },
          body,
        }),
      ),
  });
  if (!row || !column || !cell) return null;
  const at = `/studies/${String(study.id)}`;
  const unit = table.unit === 'interviews' ? 'interviews' : `rows of ${table.unit}`;
  return (
    <div className="behind">
      <h2>
        {figureOf(cell, table.request.show)} · {row.label}
        {column.value === '*' ? '' : ` in ${column.label}`}
      </h2>
      <Loaded query={behind}>
        {(data) => (
          <ul>
            <li>
              {table.request.show === 'share'
                ? `${String(cell.count)} of ${String(cell.base)} ${unit}`
                : `${String(cell.base)} ${unit}`}
              , from {data.interviews} interviews ·{' '}
              {data.interviews > 0 && (
                <Link
                  to={`${at}/interviews?figure=${encodeURIComponent(JSON.stringify({ questionnaire_id: questionnaireId, ...body }))}&sort=number`}
                >
                  see them
                </Link>
              )}
            </li>
            <li>
              cleaned: {data.cleaned} {data.cleaned === 1 ? 'value' : 'values'} · <Link to={`${at}/clean`}>why</Link>
            </li>
            {data.wordings.map((w, i) => (
              <li key={i}>
                release {String(w.release)} asks: <i>{String(w.wording)}</i>
              </li>
            ))}
            <li>
              95 % interval {marginOf(cell, table.request.show)}
              {cell.standard_error == null
                ? ''
                : ` · standard error ${table.request.show === 'share' ? `${(100 * cell.standard_error).toFixed(2)} %` : cell.standard_error.toFixed(2)}`}
            </li>
          </ul>
        )}
      </Loaded>
    </div>
  );
}
