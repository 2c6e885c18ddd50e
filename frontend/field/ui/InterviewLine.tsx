import { Link } from 'react-router';
import type { InterviewRow } from '../store/db';
import { SHAPES, dayAndTime, isToday, timeOf } from './states';

/** One interview in a list: what it is called, where it stands. */
export function InterviewLine({ row }: { row: InterviewRow }) {
  const when = isToday(row.changedAt) ? timeOf(row.changedAt) : dayAndTime(row.changedAt);
  const name = row.label !== '' ? row.label : row.correction ? `${row.title}, ${dayAndTime(row.startedAt)}` : row.title;
  const lines: Record<InterviewRow['state'], string> = {
    'in hand': row.correction
      ? `sent back by ${row.correction.by}: ${row.correction.remarks[0]?.text ?? ''}`
      : row.stoppedAt === ''
        ? `begun ${when}`
        : `stopped at ${row.stoppedAt}, ${when}`,
    packed: `packed ${when}`,
    'handed in': `handed in ${when}`,
  };
  const content = (
    <>
      <span className="line-text">
        <b>
          {name}
          {row.practice === 1 && <em> practice</em>}
        </b>
        <span>
          <span aria-hidden>{row.correction && row.state === 'in hand' ? '◁' : SHAPES[row.state]}</span>{' '}
          {lines[row.state]}
        </span>
        {row.problem !== undefined && <span className="line-problem">{row.problem}</span>}
      </span>
      {row.state === 'in hand' && !row.correction && row.open > 0 && <span className="line-side">{row.open} left</span>}
      {(row.state === 'handed in' || row.correction) && row.number !== undefined && (
        <span className="line-side quiet mono">{String(row.number).padStart(4, '0')}</span>
      )}
    </>
  );
  if (row.state !== 'in hand') return <div className="line">{content}</div>;
  return (
    <Link className="line" to={`/interviews/${row.uuid}`}>
      {content}
    </Link>
  );
}
