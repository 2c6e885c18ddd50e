import { useQuery } from '@tanstack/react-query';
import { Table } from 'antd';
import { Link } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useStudy } from '../../ui/StudyFrame';
import { Empty, Loaded } from '../../ui/states';

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
        <h1>Checks</h1>
        <span className="muted">
          over {checks.data?.interviews ?? '…'} interviews, brought up to date as they arrive
        </span>
      </div>
      <Loaded query={checks}>
        {(data) =>
          data.interviews === 0 ? (
            <div className="sheet">
              <Empty title="Nothing to check yet.">
                As interviews arrive, the rules of the questionnaire are run over them again here.
              </Empty>
            </div>
          ) : (
            <>
              <h2 className="section-head">Broken rules</h2>
              <div className="sheet">
                <Table<Schemas['CheckLine']>
                  size="small"
                  rowKey="id"
                  pagination={false}
                  dataSource={data.checks}
                  locale={{ emptyText: <Empty title="No rule is broken." /> }}
                  columns={[
                    {
                      title: 'Strictness',
                      width: 110,
                      render: (_, c) => (
                        <span className={c.strength === 'must' ? 'bad' : 'doubt'}>
                          {c.strength === 'must' ? 'must hold' : 'should hold'}
                        </span>
                      ),
                    },
                    { title: 'Variable', width: 160, dataIndex: 'variable', className: 'mono' },
                    { title: 'What', dataIndex: 'text' },
                    {
                      title: 'Interviews',
                      align: 'right',
                      width: 100,
                      render: (_, c) => <Link to={`${ledger}?check=${encodeURIComponent(c.id)}`}>{c.interviews}</Link>,
                    },
                    { title: 'Kept with a reason', align: 'right', width: 140, dataIndex: 'kept' },
                  ]}
                />
              </div>
              <h2 className="section-head">Enumerators</h2>
              <div className="sheet">
                <Table<Schemas['EnumeratorLine']>
                  size="small"
                  rowKey="enumerator"
                  pagination={false}
                  dataSource={data.enumerators}
                  columns={[
                    {
                      title: 'Enumerator',
                      dataIndex: 'enumerator',
                      render: (name: string) => (
                        <Link to={`${ledger}?enumerator=${encodeURIComponent(name)}`}>{name}</Link>
                      ),
                    },
                    { title: 'Interviews', dataIndex: 'interviews', align: 'right', width: 100 },
                    {
                      title: 'Median minutes',
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
                    { title: 'Shortest', align: 'right', width: 100, dataIndex: 'shortest_minutes' },
                    { title: 'Hard findings', align: 'right', width: 110, dataIndex: 'hard' },
                    { title: 'Soft findings', align: 'right', width: 110, dataIndex: 'soft' },
                    { title: 'Don’t know', align: 'right', width: 110, render: (_, e) => percent(e.dont_know_share) },
                    { title: 'Refused', align: 'right', width: 110, render: (_, e) => percent(e.refused_share) },
                  ]}
                />
              </div>
              <p className="muted small">
                Median of all: {data.median_minutes ?? '–'} minutes; below half of it is marked. Shares are of all
                questions that were asked.
              </p>
            </>
          )
        }
      </Loaded>
    </div>
  );
}
