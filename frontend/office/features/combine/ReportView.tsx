// What a join finds: how many on either side, and lists to work through.
import { Link } from 'react-router';
import { useStudy } from '../../ui/study';
import { figure, t } from '../../texts/texts';
import type { Outside, Report } from './outside';

interface Props {
  id: number;
  table: Outside;
  report: Report;
  into: string;
  /** Whether the join is kept as it is shown: then there are files to take out. */
  kept: boolean;
}

export function ReportView({ id, table, report, into, kept }: Props) {
  const study = useStudy();
  const share = (count: number) => `${String(report.rows === 0 ? 0 : (100 * count) / report.rows)}%`;
  const byKey = report.matched - report.near;
  const file = (side: string) =>
    kept ? `/api/questionnaires/${String(id)}/outside/${String(table.id)}/unmatched.csv?side=${side}` : undefined;
  const interviewOf = (place: string) =>
    `/studies/${String(study.id)}/interviews?keys=${place.split(' / ')[0] ?? place}`;
  const unread = Object.entries(report.unread).filter(([, count]) => count > 0);
  return (
    <>
      <div
        className="join-bar"
        role="img"
        aria-label={t('combine.rowsMatched', { matched: report.matched, rows: report.rows })}
      >
        <i style={{ width: share(byKey) }} />
        <i className="near" style={{ width: share(report.near) }} />
      </div>
      <div className="join-figures">
        <Figure
          n={report.matched}
          words={
            into === 'interviews'
              ? t('combine.ofInterviews', { count: report.rows })
              : t('combine.ofRows', { count: report.rows })
          }
        />
        <Figure n={report.near} words={t('combine.byLikeness')} />
        <Figure n={report.doubtful} words={t('combine.inDoubt')} odd />
        <Figure n={report.unmatched_count} words={t('combine.findNoRow', { count: report.without_key })} odd />
        <Figure n={report.unmatched_rows_count} words={t('combine.rowsOfNobody', { count: report.outside_rows })} odd />
        <Figure n={report.ambiguous_count} words={t('combine.keysSeveralRows')} odd />
      </div>
      {unread.length > 0 && (
        <p className="bad">{unread.map(([column, count]) => t('combine.unreadTaken', { column, count })).join(' ')}</p>
      )}
      <div className="join-lists">
        <Listing
          title={t('combine.oursWithout')}
          total={report.unmatched_count}
          file={file('ours')}
          items={report.unmatched.map(({ place, value }) => ({ key: place, text: value, to: interviewOf(place) }))}
        />
        <Listing
          title={t('combine.theirsWithout')}
          total={report.unmatched_rows_count}
          file={file('theirs')}
          items={report.unmatched_rows.map(({ row, value, holds }) => ({
            key: t('combine.rowNumber', { row }),
            text: holds || value,
          }))}
        />
        <Listing
          title={t('combine.writtenOtherwise')}
          total={report.otherwise_count}
          items={report.otherwise.map(({ ours, theirs, count }) => ({
            key: count > 1 ? `${figure(count)} ×` : '',
            text: `${ours} = ${theirs}`,
          }))}
        />
        <Listing
          title={t('combine.keysStandTwice')}
          total={report.ambiguous_count}
          items={report.ambiguous.map(({ value, count }) => ({ key: `${figure(count)} ×`, text: value }))}
        />
        <Listing
          title={t('combine.keysOfSeveral')}
          total={report.repeated_count}
          items={report.repeated.map(({ value, count }) => ({ key: `${figure(count)} ×`, text: value }))}
        />
      </div>
    </>
  );
}

const Figure = ({ n, words, odd = false }: { n: number; words: string; odd?: boolean }) => (
  <div className="join-figure">
    <b className={odd && n > 0 ? 'doubt' : ''}>{figure(n)}</b>
    <span className="muted small">{words}</span>
  </div>
);

interface Item {
  key: string;
  text: string;
  to?: string;
}

function Listing({
  title,
  total,
  items,
  file,
}: {
  title: string;
  total: number;
  items: Item[];
  file?: string | undefined;
}) {
  if (items.length === 0) return null;
  return (
    <div>
      <h3>
        {title} <span className="muted">{figure(total)}</span>{' '}
        {file !== undefined && (
          <a className="small" href={file}>
            {t('combine.asFile')}
          </a>
        )}
      </h3>
      {/* A list that scrolls is reached by the keyboard as well. */}
      {/* eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex */}
      <ul className="join-list" tabIndex={0} aria-label={title}>
        {items.map((item) => (
          <li key={item.key + item.text}>
            {item.to === undefined ? (
              <span className="muted">{item.key}</span>
            ) : (
              <Link className="mono" to={item.to}>
                {item.key}
              </Link>
            )}{' '}
            <code>{item.text === '' ? <span className="muted">{t('combine.noKey')}</span> : item.text}</code>
          </li>
        ))}
      </ul>
    </div>
  );
}
