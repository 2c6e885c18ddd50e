import { useQuery } from '@tanstack/react-query';
import { Table } from 'antd';
import { Link } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { titleOf, useStudy } from '../../ui/study';
import { Empty, Loaded } from '../../ui/states';
import { t } from '../../texts/texts';

const percent = (share: number | null | undefined) => (share == null ? '–' : `${(100 * share).toFixed(1)} %`);

/** What the questionnaire's own rules found in the interviews that arrived, and how enumerators differ. */
export default function Checks() {
  const study = useStudy();
  const checks = useQuery({
    queryKey: ['study', study.id, 'checks'],
    queryFn: () => ask(api.GET('/api/studies/{study_id}/checks', { params: { path: { study_id: study.id } } })),
  });
  const ledger = `/studies/${String(study.id)}/interviews`;
  return (
    <div className="page">
      <div className="page-head">
        <h1>{t('common.checks')}</h1>
        <span className="muted">
          {t('checks.overInterviewsBroughtUp', { interviews: checks.data?.interviews ?? '…' })}
        </span>
      </div>
      <Loaded query={checks}>
        {(data) =>
          data.interviews === 0 ? (
            <div className="sheet">
              <Empty title={t('checks.nothingCheckYet')}>{t('checks.interviewsArriveRulesQuestionnaire')}</Empty>
            </div>
          ) : (
            <>
              <h2 className="section-head">{t('checks.brokenRules')}</h2>
              <div className="sheet">
                <Table<Schemas['CheckLine']>
                  size="small"
                  rowKey="id"
                  pagination={false}
                  dataSource={data.checks}
                  locale={{ emptyText: <Empty title={t('checks.noRuleBroken')} /> }}
                  columns={[
                    {
                      title: t('checks.strictness'),
                      width: 110,
                      render: (_, c) => (
                        <span className={c.strength === 'must' ? 'bad' : 'doubt'}>
                          {c.strength === 'must' ? t('common.mustHold') : t('common.shouldHold')}
                        </span>
                      ),
                    },
                    ...(study.questionnaires.length > 1
                      ? [
                          {
                            title: t('common.questionnaire'),
                            width: 180,
                            render: (_: unknown, c: Schemas['CheckLine']) => titleOf(study, c.questionnaire_id),
                          },
                        ]
                      : []),
                    { title: t('common.variable'), width: 160, dataIndex: 'variable', className: 'mono' },
                    { title: t('checks.what'), dataIndex: 'text' },
                    {
                      title: t('common.interviews'),
                      align: 'right',
                      width: 100,
                      render: (_, c) => <Link to={`${ledger}?check=${encodeURIComponent(c.id)}`}>{c.interviews}</Link>,
                    },
                    { title: t('checks.keptReason'), align: 'right', width: 140, dataIndex: 'kept' },
                  ]}
                />
              </div>
              <h2 className="section-head">{t('checks.enumerators')}</h2>
              <div className="sheet">
                <Table<Schemas['EnumeratorLine']>
                  size="small"
                  rowKey="enumerator"
                  pagination={false}
                  dataSource={data.enumerators}
                  columns={[
                    {
                      title: t('common.enumerator'),
                      dataIndex: 'enumerator',
                      render: (name: string) => (
                        <Link to={`${ledger}?enumerator=${encodeURIComponent(name)}`}>{name}</Link>
                      ),
                    },
                    { title: t('common.interviews'), dataIndex: 'interviews', align: 'right', width: 100 },
                    {
                      title: t('checks.medianMinutes'),
                      align: 'right',
                      width: 130,
                      sorter: (a, b) => (a.median_minutes ?? 0) - (b.median_minutes ?? 0),
                      render: (_, e) => (
                        <span
                          className={
                            e.median_minutes != null &&
                            data.median_minutes != null &&
                            e.median_minutes < data.median_minutes / 2
                              ? 'bad'
                              : ''
                          }
                        >
                          {e.median_minutes ?? '–'}
                        </span>
                      ),
                    },
                    { title: t('checks.shortest'), align: 'right', width: 100, dataIndex: 'shortest_minutes' },
                    { title: t('checks.hardFindings'), align: 'right', width: 110, dataIndex: 'hard' },
                    { title: t('checks.softFindings'), align: 'right', width: 110, dataIndex: 'soft' },
                    {
                      title: t('common.dontKnowHead'),
                      align: 'right',
                      width: 110,
                      render: (_, e) => percent(e.dont_know_share),
                    },
                    {
                      title: t('common.refusedHead'),
                      align: 'right',
                      width: 110,
                      render: (_, e) => percent(e.refused_share),
                    },
                  ]}
                />
              </div>
              <p className="muted small">
                {t('checks.medianAllMinutesBelow', { median_minutes: data.median_minutes ?? '–' })}
              </p>
            </>
          )
        }
      </Loaded>
    </div>
  );
}
