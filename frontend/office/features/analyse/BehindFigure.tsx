import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useStudy } from '../../ui/study';
import { Loaded } from '../../ui/states';
import { FigureHead, figureAt, marginOf, type Chosen } from './Figures';
import { figure, t } from '../../texts/texts';
import { Words } from '../../texts/Words';

/** The way back from a figure: interviews, cleaning, wording. */
export function BehindFigure({
  dataSetId,
  table,
  chosen,
}: {
  dataSetId: number;
  table: Schemas['ResultTable'];
  chosen: Chosen;
}) {
  const study = useStudy();
  const { cell, body } = figureAt(table, chosen);
  const behind = useQuery({
    queryKey: ['data set', dataSetId, 'behind', body],
    queryFn: () =>
      ask(
        api.POST('/api/data-sets/{data_set_id}/table/behind', {
          params: { path: { data_set_id: dataSetId } },
          body,
        }),
      ),
  });
  if (!cell) return null;
  const at = `/studies/${String(study.id)}`;
  const unit = table.unit === 'interviews' ? t('analyse.unitInterviews') : t('analyse.rowsOf', { unit: table.unit });
  return (
    <div className="behind">
      <FigureHead table={table} chosen={chosen} />
      <Loaded query={behind}>
        {(data) => (
          <ul>
            <li>
              {table.request.show === 'share'
                ? t('analyse.of', { count: cell.count, base: cell.base, unit })
                : `${figure(cell.base)} ${unit}`}
              {t('analyse.fromInterviews', { count: data.interviews })}
              {' · '}
              {data.interviews > 0 && (
                <Link
                  to={`${at}/interviews?figure=${encodeURIComponent(JSON.stringify({ data_set_id: dataSetId, ...body }))}&sort=number`}
                >
                  {t('analyse.seeThem')}
                </Link>
              )}
            </li>
            <li>
              <Words
                k="analyse.cleanedValuesWhy"
                values={{ count: data.cleaned }}
                parts={{ a: <Link to={`${at}/clean`} /> }}
              />
            </li>
            {data.wordings.map((w, i) => (
              <li key={i}>
                <Words
                  k={w.questionnaire === '' ? 'analyse.releaseAsks' : 'analyse.releaseOfAsks'}
                  values={{
                    release: String(w.release),
                    wording: String(w.wording),
                    questionnaire: String(w.questionnaire),
                  }}
                  parts={{ i: <i /> }}
                />
              </li>
            ))}
            <li>{t('analyse.madeOf', { title: data.data_set, revision: data.revision })}</li>
            <li>
              {t('analyse.95Interval', { cell: marginOf(cell, table.request.show) })}
              {cell.standard_error == null
                ? ''
                : ' · ' +
                  t('analyse.standardError', {
                    show:
                      table.request.show === 'share'
                        ? `${(100 * cell.standard_error).toFixed(2)} %`
                        : cell.standard_error.toFixed(2),
                  })}
            </li>
          </ul>
        )}
      </Loaded>
    </div>
  );
}
