// Every changed cell and every row left out: narrowed down, and taken out as a file.
import { useQuery } from '@tanstack/react-query';
import { Button, Drawer, Input, Select, Table } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { Empty, Loaded } from '../../ui/states';
import { t } from '../../texts/texts';
import { CellHistory, type CellPlace } from './CellHistory';
import { cellText } from './CellRows';
import type { Plan } from './plan';
import { numbersOf } from './PlanPane';
import { stepWords } from './steps';

interface Props {
  id: number;
  studyId: number;
  plan: Plan;
  step: number | null;
  onStep: (step: number | null) => void;
  onClose: () => void;
}

const PAGE = 100;
type Change = Schemas['ChangeOut'];

export function Changes({ id, studyId, plan, step, onStep, onClose }: Props) {
  const [interview, setInterview] = useState('');
  const [variable, setVariable] = useState('');
  const [page, setPage] = useState(1);
  const [cell, setCell] = useState<CellPlace | null>(null);
  const numbers = numbersOf(plan.steps);
  const query = {
    ...(step === null ? {} : { step }),
    variable: variable.trim(),
    interview: interview.trim() === '' ? '' : interview.trim().padStart(4, '0'),
    offset: (page - 1) * PAGE,
    limit: PAGE,
  };
  const changes = useQuery({
    queryKey: ['data', id, 'changes', plan.revision, query],
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/plan/changes', {
          params: { path: { questionnaire_id: id }, query },
        }),
      ),
  });
  const file = new URLSearchParams(
    Object.entries(query)
      .filter(([name, value]) => name !== 'offset' && name !== 'limit' && value !== '')
      .map(([name, value]) => [name, String(value)]),
  );
  const again =
    <T,>(set: (value: T) => void) =>
    (value: T) => {
      setPage(1);
      set(value);
    };
  return (
    <Drawer open size={820} title={t('clean.everyChangedCell')} onClose={onClose}>
      <div className="row changes-filter">
        <Select
          allowClear
          style={{ width: 300 }}
          placeholder={t('clean.anyStep')}
          aria-label={t('clean.step')}
          value={step}
          options={plan.steps
            .filter((s) => s.body.kind !== 'heading')
            .map((s) => ({ value: s.id, label: `${String(numbers.get(s.id))} · ${stepWords(s.body).join(' ')}` }))}
          onChange={again((chosen: number | undefined) => {
            onStep(chosen ?? null);
          })}
        />
        <Input
          allowClear
          style={{ width: 160 }}
          placeholder={t('common.variable')}
          aria-label={t('common.variable')}
          value={variable}
          onChange={(event) => {
            again(setVariable)(event.target.value);
          }}
        />
        <Input
          allowClear
          style={{ width: 120 }}
          placeholder={t('common.interview')}
          aria-label={t('common.interview')}
          value={interview}
          onChange={(event) => {
            again(setInterview)(event.target.value);
          }}
        />
        <span className="grow" />
        <Button href={`/api/questionnaires/${String(id)}/plan/changes.csv?${file.toString()}`}>
          {t('clean.asFile')}
        </Button>
      </div>
      <Loaded query={changes}>
        {(data) => (
          <>
            {data.left_out.length > 0 && (
              <p>
                <b>{t('clean.rowsLeftOut', { count: data.rows })}</b>{' '}
                <span className="muted">
                  {data.left_out
                    .slice(0, 30)
                    .map((r) => [r.interview, ...r.row].join(' / ') + (r.copy_of !== null ? ` = ${r.copy_of}` : ''))
                    .join(', ')}
                  {data.rows > 30 ? ' …' : ''}
                </span>
              </p>
            )}
            <Table<Change>
              size="small"
              rowKey={(c) => `${String(c.step)}.${c.interview}.${c.row.join('.')}.${c.variable}`}
              dataSource={data.changes}
              pagination={
                data.cells > PAGE
                  ? { pageSize: PAGE, total: data.cells, current: page, showSizeChanger: false, onChange: setPage }
                  : false
              }
              locale={{ emptyText: <Empty title={t('clean.noCellChanged')} /> }}
              columns={[
                {
                  title: t('clean.step'),
                  width: 50,
                  align: 'right',
                  render: (_, c) => <span className="muted">{numbers.get(c.step)}</span>,
                },
                {
                  title: t('common.interview'),
                  width: 90,
                  render: (_, c) => (
                    <Link className="mono" to={`/studies/${String(studyId)}/interviews?keys=${c.interview}`}>
                      {c.interview}
                    </Link>
                  ),
                },
                {
                  title: t('common.variable'),
                  render: (_, c) => (
                    <button
                      type="button"
                      className="plain-link variable-link"
                      title={t('interviews.whatHappened')}
                      onClick={() => {
                        setCell({ interview: c.interview, row: c.row, variable: c.variable });
                      }}
                    >
                      <code>
                        {[c.table === 'interviews' ? '' : `${c.table} ${c.row.join(' ')}`, c.variable]
                          .filter((p) => p !== '')
                          .join(' · ')}
                      </code>
                    </button>
                  ),
                },
                {
                  title: t('clean.before'),
                  align: 'right',
                  render: (_, c) => <s className="muted">{cellText(c.before, c.before_why)}</s>,
                },
                { title: t('clean.after'), align: 'right', render: (_, c) => <b>{cellText(c.after, c.after_why)}</b> },
              ]}
            />
          </>
        )}
      </Loaded>
      {cell !== null && (
        <CellHistory
          id={id}
          studyId={studyId}
          cell={cell}
          onClose={() => {
            setCell(null);
          }}
        />
      )}
    </Drawer>
  );
}
