// A pair part by part: what both say, what the comparison found, and what that is worth.
import { Link } from 'react-router';
import { t } from '../../texts/texts';
import type { Pair, PairParts } from './matches';
import { inTwenty, signed } from './outside';
import { Weight } from './Weight';

interface Props {
  table: string;
  pair: Pair;
  parts: PairParts;
  studyId: number;
}

const AS_LIKELY = 0.05;

export function PairView({ table, pair, parts, studyId }: Props) {
  const most = Math.max(...parts.parts.map((part) => Math.max(Math.abs(part.least), Math.abs(part.most))), 1);
  const interview = pair.place.split(' / ')[0] ?? pair.place;
  return (
    <div className="sheet pair-sheet">
      <table>
        <thead>
          <tr>
            <th />
            <th>{t('combine.tableRow', { table, row: parts.row })}</th>
            <th>
              {t('common.interview')}{' '}
              <Link className="mono" to={`/studies/${String(studyId)}/interviews?keys=${interview}`}>
                {pair.place}
              </Link>
            </th>
            <th>{t('combine.likeness')}</th>
            <th />
            <th className="n">{t('combine.weight')}</th>
          </tr>
        </thead>
        <tbody>
          {parts.parts.map((part) => (
            <tr key={part.variable}>
              <th scope="row" title={part.label}>
                {part.column}
              </th>
              <td className="cell">{part.theirs || <span className="muted small">{t('common.nothing')}</span>}</td>
              <td className="cell">{part.ours || <span className="muted small">{t('common.nothing')}</span>}</td>
              <td className="small muted">{part.found}</td>
              <td>
                <Weight bits={part.bits} most={most} />
              </td>
              <td className={`n ${part.bits > 0 ? 'for' : part.bits < 0 ? 'bad' : 'muted'}`}>{signed(part.bits)}</td>
            </tr>
          ))}
          <tr className="prior">
            <th scope="row" colSpan={3}>
              {t('combine.prior')}
            </th>
            <td className="small muted" colSpan={2}>
              {t('combine.priorMeans')}
            </td>
            <td className="n muted">{signed(parts.prior)}</td>
          </tr>
        </tbody>
      </table>
      <p className="pair-sum">
        <b>{signed(parts.score)}</b>{' '}
        <span className="muted">{t('combine.inAll', { times: inTwenty(parts.chance) })}</span>
      </p>
    </div>
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
