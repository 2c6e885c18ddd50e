// Counts by stratum or cluster: what a reader adds up.
import { locale, t } from '../../../texts/texts';
import type { Schemas } from '../../../../shared/api/client';

const number = new Intl.NumberFormat(locale);
const figure = new Intl.NumberFormat(locale, { maximumFractionDigits: 3 });
const share = new Intl.NumberFormat(locale, { style: 'percent', maximumFractionDigits: 1 });

interface Props {
  told: Schemas['DrawnOut'];
  clusters: boolean;
  chosen?: string;
  onChoose?: (stratum: string) => void;
}

export function Strata({ told, clusters, chosen = '', onChoose }: Props) {
  const hasSpread = told.strata.some((line) => line.spread != null);
  const count = told.strata.reduce((sum, line) => sum + line.count, 0);
  return (
    <table className="listing strata">
      <thead>
        <tr>
          <th>{clusters ? t('samples.cluster') : t('samples.stratum')}</th>
          <th className="figure">{t('samples.inFrame')}</th>
          {hasSpread && <th className="figure">{t('samples.spread')}</th>}
          <th className="figure">{t('samples.drawn')}</th>
          <th className="figure">{t('samples.fraction')}</th>
          <th className="figure">{t('samples.weight')}</th>
          <th className="figure">{t('samples.weightsSum')}</th>
        </tr>
      </thead>
      <tbody>
        {told.strata.map((line) => (
          <tr key={line.name} className={line.name === chosen ? 'here-row' : undefined}>
            <th scope="row">
              {onChoose === undefined ? (
                line.name
              ) : (
                <button
                  type="button"
                  className="plain-link"
                  aria-pressed={line.name === chosen}
                  onClick={() => {
                    onChoose(line.name === chosen ? '' : line.name);
                  }}
                >
                  {line.name}
                </button>
              )}
            </th>
            <td className="figure">{number.format(line.count)}</td>
            {hasSpread && <td className="figure">{line.spread == null ? '' : figure.format(line.spread)}</td>}
            <td className="figure">{number.format(line.drawn)}</td>
            <td className="figure">{share.format(line.count === 0 ? 0 : line.drawn / line.count)}</td>
            <td className="figure">{line.weight == null ? t('samples.differs') : figure.format(line.weight)}</td>
            <td className="figure">{figure.format(line.weights)}</td>
          </tr>
        ))}
      </tbody>
      <tfoot>
        <tr>
          <th scope="row">{t('samples.altogether')}</th>
          <td className="figure">{number.format(count)}</td>
          {hasSpread && <td />}
          <td className="figure">{number.format(told.drawn)}</td>
          <td className="figure">{share.format(count === 0 ? 0 : told.drawn / count)}</td>
          <td className="figure" />
          <td className="figure">{figure.format(told.weights)}</td>
        </tr>
      </tfoot>
    </table>
  );
}
