import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { App, Button, Table } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useMay, useQuestionnaireId, useStudy } from '../../ui/study';
import { useMoments } from '../../ui/moments';
import { Empty, Loaded, messageOf } from '../../ui/states';
import { shown, useVariables } from '../data';
import { NewStep } from './NewStep';
import { stepWords } from './steps';
import './clean.css';
import { t } from '../../texts/texts';

type Plan = Schemas['PlanOut'];
type Step = Schemas['StepOut'];

/** The cleaning plan: steps replayed over the raw data. */
export default function Clean() {
  const id = useQuestionnaireId();
  return id === null ? (
    <div className="page">
      <div className="sheet">
        <Empty title={t('clean.nothingCleanYet')} />
      </div>
    </div>
  ) : (
    <PlanPage id={id} />
  );
}

function PlanPage({ id }: { id: number }) {
  const { ago } = useMoments();
  const study = useStudy();
  const may = useMay();
  const plan = useQuery({
    queryKey: ['data', id, 'plan'],
    queryFn: () =>
      ask(api.GET('/api/questionnaires/{questionnaire_id}/plan', { params: { path: { questionnaire_id: id } } })),
  });
  const variables = useVariables(id);
  const [adding, setAdding] = useState(false);
  const [of, setOf] = useState<number | null>(null);
  const takeBack = useTakeBack(id);
  return (
    <div className="page">
      <div className="page-head">
        <h1>{t('common.clean')}</h1>
        {plan.data && (
          <span className="muted">
            {t('clean.stepsCellsChangedInterviews', {
              steps: plan.data.steps.length,
              cells: plan.data.cells,
              interviews: plan.data.interviews,
            })}
          </span>
        )}
        <span className="grow" />
        {may('clean.write') && study.interviews > 0 && (
          <Button
            type="primary"
            onClick={() => {
              setAdding(true);
            }}
          >
            {t('clean.addStep')}
          </Button>
        )}
      </div>
      <Loaded query={plan}>
        {(data) => (
          <div className="columns wide-left">
            <div className="sheet">
              <Table<Step>
                size="small"
                rowKey="id"
                pagination={false}
                dataSource={data.steps}
                rowClassName={(s) => `link-row ${s.id === of ? 'here-row' : ''}`}
                onRow={(s) => ({
                  onClick: () => {
                    setOf(s.id === of ? null : s.id);
                  },
                })}
                locale={{
                  emptyText: (
                    <Empty title={t('clean.planEmpty')}>
                      {study.interviews === 0
                        ? t('clean.onceInterviewsArriveSteps')
                        : t('clean.stepRecodesCorrectsMarks')}
                    </Empty>
                  ),
                }}
                columns={[
                  {
                    title: '',
                    width: 30,
                    align: 'right',
                    render: (_, __, i) => <span className="muted">{i + 1}</span>,
                  },
                  {
                    title: t('clean.step'),
                    render: (_, s) => (
                      <>
                        <StepText step={s} />
                        {s.problem !== '' && (
                          <div className="bad small">{t('clean.noLongerFits', { problem: s.problem })}</div>
                        )}
                      </>
                    ),
                  },
                  { title: t('common.cells'), width: 60, align: 'right', render: (_, s) => s.touched },
                  {
                    title: t('common.kept'),
                    width: 170,
                    render: (_, s) => (
                      <span className="muted small">
                        {s.created_by}, {ago(s.created_at)}
                      </span>
                    ),
                  },
                  {
                    title: '',
                    width: 90,
                    align: 'right',
                    render: (_, s) =>
                      may('clean.write') && (
                        <Button
                          size="small"
                          type="text"
                          onClick={(event) => {
                            event.stopPropagation();
                            takeBack(s);
                          }}
                        >
                          {t('clean.takeBack')}
                        </Button>
                      ),
                  },
                ]}
              />
            </div>
            <Changes id={id} of={of} plan={data} studyId={study.id} />
          </div>
        )}
      </Loaded>
      {adding && variables.data && (
        <NewStep
          questionnaireId={id}
          variables={variables.data.filter((v) => v.origin === 'questionnaire')}
          onClose={() => {
            setAdding(false);
          }}
        />
      )}
    </div>
  );
}

function StepText({ step }: { step: Step }) {
  const [verb, variable, rest] = stepWords(step.body);
  return (
    <span>
      <b>{verb}</b> <code>{variable}</code> {rest}
      {step.body.reason !== '' && <span className="muted"> · {step.body.reason}</span>}
    </span>
  );
}

function useTakeBack(id: number) {
  const queries = useQueryClient();
  const { message } = App.useApp();
  const refresh = (plan: Plan) => {
    queries.setQueryData(['data', id, 'plan'], plan);
    void queries.invalidateQueries({ queryKey: ['data', id] });
  };
  const restore = useMutation({
    mutationFn: (step: number) =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/plan/steps/{step_id}/restore', {
          params: { path: { questionnaire_id: id, step_id: step } },
        }),
      ),
    onSuccess: refresh,
  });
  const remove = useMutation({
    mutationFn: (step: Step) =>
      ask(
        api.DELETE('/api/questionnaires/{questionnaire_id}/plan/steps/{step_id}', {
          params: { path: { questionnaire_id: id, step_id: step.id } },
        }),
      ),
    onSuccess: (plan, step) => {
      refresh(plan);
      const key = `taken-${String(step.id)}`;
      void message.open({
        key,
        type: 'success',
        duration: 8,
        content: (
          <>
            {t('clean.stepTakenBack')}{' '}
            <Button
              type="link"
              size="small"
              onClick={() => {
                restore.mutate(step.id);
                message.destroy(key);
              }}
            >
              {t('common.undo')}
            </Button>
          </>
        ),
      });
    },
    onError: (error) => {
      void message.error(messageOf(error));
    },
  });
  return (step: Step) => {
    if (!remove.isPending) remove.mutate(step);
  };
}

function Changes({ id, of, plan, studyId }: { id: number; of: number | null; plan: Plan; studyId: number }) {
  const changes = useQuery({
    queryKey: ['data', id, 'changes', plan.steps.map((s) => s.id).join()],
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/plan/changes', { params: { path: { questionnaire_id: id } } }),
      ),
  });
  const rows = (changes.data ?? []).filter((c) => of === null || c.step === of);
  const number = (step: number) => plan.steps.findIndex((s) => s.id === step) + 1;
  return (
    <div className="sheet">
      <h2 className="sheet-head">
        {of === null ? t('clean.everyChangedCell') : t('clean.whatStepChanged', { of: number(of) })}
      </h2>
      <Table<Schemas['ChangeOut']>
        size="small"
        rowKey={(c) => `${String(c.step)}.${c.interview}.${c.row.join('.')}.${c.variable}`}
        pagination={rows.length > 50 ? { pageSize: 50, showSizeChanger: false } : false}
        dataSource={rows}
        locale={{ emptyText: <Empty title={t('clean.noCellChanged')} /> }}
        columns={[
          { title: '', width: 30, align: 'right', render: (_, c) => <span className="muted">{number(c.step)}</span> },
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
            title: t('clean.where'),
            render: (_, c) => (
              <code>
                {[c.table === 'interviews' ? '' : `${c.table} ${c.row.join(' ')}`, c.variable]
                  .filter((p) => p !== '')
                  .join(' · ')}
              </code>
            ),
          },
          { title: t('clean.before'), align: 'right', render: (_, c) => <s className="muted">{shown(c.before)}</s> },
          { title: t('clean.after'), align: 'right', render: (_, c) => <b>{shown(c.after)}</b> },
        ]}
      />
    </div>
  );
}
