// A pair part by part: what both say, what the comparison found, and what that is worth.
import { Link } from 'react-router';
import { t } from '../../texts/texts';
import type { Pair, PairParts } from './matches';
import { signed } from './outside';
import { PairSheet } from './pairs';

interface Props {
  table: string;
  pair: Pair;
  parts: PairParts;
  studyId: number;
}

const AS_LIKELY = 0.05;

export function PairView({ table, pair, parts, studyId }: Props) {
  const interview = pair.place.split(' / ')[0] ?? pair.place;
  return (
    <PairSheet
      left={t('combine.tableRow', { table, row: parts.row })}
      right={
        <>
          {t('common.interview')}{' '}
          <Link className="mono" to={`/studies/${String(studyId)}/interviews?keys=${interview}`}>
            {pair.place}
          </Link>
        </>
      }
      parts={parts.parts.map((part) => ({
        name: part.column,
        title: part.label,
        left: part.theirs,
        right: part.ours,
        found: part.found,
        bits: part.bits,
      }))}
      most={Math.max(...parts.parts.map((part) => Math.max(Math.abs(part.least), Math.abs(part.most))), 1)}
      prior={parts.prior}
      priorMeans={t('combine.priorMeans')}
      total={parts.score}
      chance={parts.chance}
    />
  );
}

/** What else may be it, and what is taken over where it is. */
export function Beside({ table, parts }: { table: string; parts: PairParts }) {
  return (
    <div className="pair-beside">
      <div className="sheet pad">
        <h2>{t('combine.nearestOthers', { table })}</h2>
        {parts.nearest.length === 0 ? (
          <p className="muted small">{t('combine.noneNear')}</p>
        ) : (
          parts.nearest.map((other) => (
            <p className={parts.score - other.score < AS_LIKELY ? 'small doubt' : 'small'} key={other.row}>
              {other.theirs} · {t('combine.rowNumber', { row: other.row })} · {signed(other.score)}
              {parts.score - other.score < AS_LIKELY && ` · ${t('combine.asLikely')}`}
            </p>
          ))
        )}
      </div>
      <div className="sheet pad">
        <h2>{t('combine.hangsOnIt')}</h2>
        <p className="small">
          {Object.entries(parts.taken).map(([column, cell], at) => (
            <span key={column}>
              {at > 0 && ', '}
              {column} <b>{cell ?? t('common.nothing')}</b>
            </span>
          ))}
        </p>
        {parts.others_of_row > 0 && (
          <p className="small doubt">{t('combine.othersOfRow', { count: parts.others_of_row })}</p>
        )}
      </div>
    </div>
  );
}
