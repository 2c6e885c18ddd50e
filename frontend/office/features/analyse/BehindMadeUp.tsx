import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { Schemas } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { Words } from '../../texts/Words';
import { Loaded } from '../../ui/states';
import { useStudy } from '../../ui/study';
import { FigureHead, figureAt, type Chosen } from './Figures';
import { askBehindMadeUp, type Source } from './source';

/** The way back from a figure of made-up data: the interviews, each to be seen on the phone. */
export function BehindMadeUp({
  source,
  table,
  chosen,
}: {
  source: Source;
  table: Schemas['ResultTable'];
  chosen: Chosen;
}) {
  const study = useStudy();
  const { cell, body } = figureAt(table, chosen);
  const behind = useQuery({
    queryKey: ['made up', source, 'behind', body],
    queryFn: () => askBehindMadeUp(source, body),
    staleTime: Infinity,
  });
  if (!cell) return null;
  const at = `/studies/${String(study.id)}/questionnaire?questionnaire=${String(source.questionnaireId)}&pane=phone`;
  return (
    <div className="behind">
      <FigureHead table={table} chosen={chosen} />
      <Loaded query={behind}>
        {(data) => (
          <ul>
            <li>{t('analyse.madeUpBehind', { count: data.interviews })}</li>
            {data.numbers.length > 0 && (
              <li>
                {t('analyse.onThePhone')}{' '}
                {data.numbers.map((number, i) => (
                  <span key={number}>
                    {i > 0 && ' · '}
                    <Link to={`${at}&opens=made-up:${String(source.rehearsal)}:${String(Number(number))}`}>
                      {number}
                    </Link>
                  </span>
                ))}
                {data.interviews > data.numbers.length && ' …'}
              </li>
            )}
            {data.wording !== '' && (
              <li>
                <Words k="analyse.asks" values={{ wording: data.wording }} parts={{ i: <i /> }} />
              </li>
            )}
          </ul>
        )}
      </Loaded>
    </div>
  );
}
