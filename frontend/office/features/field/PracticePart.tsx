import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, ask } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { useMoments } from '../../ui/moments';
import { Empty, Loaded } from '../../ui/states';
import { useStudy } from '../../ui/study';

const REFRESH_MS = 10_000;

/** Who has led which exercise in training, and how many answers were entered otherwise than meant. */
export default function PracticePart() {
  const study = useStudy();
  const { ago } = useMoments();
  const practised = useQuery({
    queryKey: ['study', study.id, 'practised'],
    queryFn: () => ask(api.GET('/api/studies/{study_id}/practised', { params: { path: { study_id: study.id } } })),
    refetchInterval: REFRESH_MS,
  });
  const here = `/studies/${String(study.id)}`;
  return (
    <>
      <div className="page-head">
        <span className="muted">{t('practice.what')}</span>
        <span className="grow" />
        <Link to={`${here}/interviews?practice=1`}>{t('practice.all')}</Link>
      </div>
      <Loaded query={practised}>
        {(found) =>
          found.length === 0 ? (
            <div className="sheet">
              <Empty
                title={t('practice.none')}
                action={<Link to={`${here}/questionnaire?pane=phone`}>{t('practice.writeTests')}</Link>}
              >
                {t('practice.noneMeans')}
              </Empty>
            </div>
          ) : (
            <div className="sheet">
              <table className="listing">
                <thead>
                  <tr>
                    <th>{t('common.enumerator')}</th>
                    <th>{t('practice.exercise')}</th>
                    <th className="figure">{t('practice.times')}</th>
                    <th className="figure">{t('practice.first')}</th>
                    <th className="figure">{t('practice.newest')}</th>
                    <th>{t('practice.when')}</th>
                  </tr>
                </thead>
                <tbody>
                  {found.map((one) => (
                    <tr key={`${one.enumerator} ${one.exercise}`}>
                      <td>{one.enumerator}</td>
                      <td>{one.exercise}</td>
                      <td className="figure">{one.times}</td>
                      <td className="figure">{one.first}</td>
                      <td className={one.newest > 0 ? 'figure doubt' : 'figure'}>{one.newest}</td>
                      <td>
                        <Link to={`${here}/interviews/${String(one.interview_id)}`}>{ago(one.at)}</Link>
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          )
        }
      </Loaded>
    </>
  );
}
