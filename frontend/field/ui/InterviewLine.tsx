import { Link } from 'react-router';
import { useSyncExternalStore } from 'react';
import type { InterviewListed } from '../store/db';
import { onSending, sendingNow } from '../store/progress';
import { useSettings } from '../store/settings';
import { useTexts } from '../texts/texts';
import { SHAPES, dayAndTime, isToday, timeOf } from './states';

/** One interview in a list: what it is called, where it stands. */
export function InterviewLine({ row }: { row: InterviewListed }) {
  const { t, language } = useTexts();
  const { keeps } = useSettings();
  const sending = useSyncExternalStore(onSending, sendingNow)[row.uuid];
  const when = isToday(row.changedAt) ? timeOf(row.changedAt) : dayAndTime(row.changedAt, language);
  const name =
    row.label !== '' ? row.label : row.correction ? `${row.title}, ${dayAndTime(row.startedAt, language)}` : row.title;
  const inHand = row.correction
    ? t('sentBackBy', { who: row.correction.by, remark: row.correction.remarks[0]?.text ?? '' })
    : row.stoppedAt === ''
      ? t('begun', { when })
      : t('stoppedAt', { where: row.stoppedAt, when });
  const lines: Record<InterviewListed['state'], string> = {
    'in hand': inHand,
    packed: t('packedAt', { when }),
    'handed in': t('handedInAt', { when }),
  };
  const content = (
    <>
      <span className="line-text">
        <b>
          {name}
          {row.practice === 1 && <em> {t('practice')}</em>}
        </b>
        <span>
          <span aria-hidden>{row.correction && row.state === 'in hand' ? '◁' : SHAPES[row.state]}</span>{' '}
          {lines[row.state]}
        </span>
        {row.problem !== undefined && <span className="line-problem">{row.problem}</span>}
      </span>
      {row.state === 'in hand' && !row.correction && row.open > 0 && (
        <span className="line-side">{t('left', { count: row.open })}</span>
      )}
      {sending !== undefined && (
        <span className="line-side">
          {sending.files === 0
            ? t('sending')
            : t('sendingFiles', {
                files: sending.files,
                percent: Math.floor((100 * sending.sent) / Math.max(sending.bytes, 1)),
              })}
        </span>
      )}
      {(row.state === 'handed in' || row.correction) && row.number !== undefined && (
        <span className="line-side quiet mono">{String(row.number).padStart(4, '0')}</span>
      )}
    </>
  );
  if (row.state === 'handed in' && keeps === 'all')
    return (
      <Link className="line" to={`/interviews/${row.uuid}/read`}>
        {content}
      </Link>
    );
  if (row.state !== 'in hand') return <div className="line">{content}</div>;
  return (
    <Link className="line" to={`/interviews/${row.uuid}`}>
      {content}
    </Link>
  );
}
