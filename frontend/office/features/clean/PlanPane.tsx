// The plan: steps in order under their headings, what each did, and what can be done with it.
import { Button, Dropdown, Input, Modal, Tooltip } from 'antd';
import { useState } from 'react';
import { useMoments } from '../../ui/moments';
import { Empty } from '../../ui/states';
import { figure, t } from '../../texts/texts';
import { acts, useAct, type Draft, type KeptStep, type Plan } from './plan';
import { STEP_KINDS, onlySays, stepWords } from './steps';
import { GROUPS } from './words';

interface Props {
  id: number;
  plan: Plan;
  mayWrite: boolean;
  chosen: number | null;
  onChoose: (step: number) => void;
  onNew: (draft: Draft) => void;
  onEdit: (step: KeptStep) => void;
  onChanges: (step: number) => void;
}

export function PlanPane({ id, plan, mayWrite, chosen, onChoose, onNew, onEdit, onChanges }: Props) {
  const act = useAct(id);
  const [remarking, setRemarking] = useState<KeptStep | null>(null);
  const numbers = numbersOf(plan.steps);
  return (
    <section className="clean-plan" aria-label={t('clean.plan')}>
      <div className="pane-head">
        <h2>{t('clean.plan')}</h2>
        <span className="small muted">
          {t('clean.planCounts', {
            steps: t('clean.stepCount', { count: plan.steps.length }),
            cells: t('clean.cellCount', { count: plan.cells }),
            interviews: t('common.interviewCount', { count: plan.interviews }),
          })}
        </span>
        <span className="grow" />
        {mayWrite && (
          <>
            <Tooltip title={plan.undoes === '' ? '' : t('clean.undoes', { what: plan.undoes })}>
              <Button
                size="small"
                type="text"
                aria-label={t('common.undo')}
                disabled={plan.undoes === ''}
                onClick={() => {
                  act(() => acts.undo(id, plan.state));
                }}
              >
                ↶
              </Button>
            </Tooltip>
            <Tooltip title={plan.redoes === '' ? '' : t('clean.redoes', { what: plan.redoes })}>
              <Button
                size="small"
                type="text"
                aria-label={t('clean.redo')}
                disabled={plan.redoes === ''}
                onClick={() => {
                  act(() => acts.redo(id, plan.state));
                }}
              >
                ↷
              </Button>
            </Tooltip>
            <Dropdown
              trigger={['click']}
              menu={{
                items: Object.entries(GROUPS).map(([group, label]) => ({
                  type: 'group' as const,
                  key: group,
                  label,
                  children: STEP_KINDS.filter((k) => k.group === group).map((k) => ({ key: k.kind, label: k.label })),
                })),
                onClick: ({ key }) => {
                  const kind = STEP_KINDS.find((k) => k.kind === key);
                  if (kind) onNew({ kind: kind.kind, ...kind.begins });
                },
              }}
            >
              <Button size="small">{t('clean.add')}</Button>
            </Dropdown>
          </>
        )}
      </div>
      <div className="pane-body">
        {plan.steps.length === 0 && <Empty title={t('clean.planEmpty')}>{t('clean.planBegins')}</Empty>}
        <ol className="steps">
          {plan.steps.map((step, at) =>
            step.body.kind === 'heading' ? (
              <li key={step.id} className="heading">
                <span className="grow">{step.body.text}</span>
                {mayWrite && <Menu {...{ step, at, plan, id, onEdit, onChanges }} onRemark={setRemarking} />}
              </li>
            ) : (
              <li
                key={step.id}
                className={`${step.off ? 'off' : ''} ${step.id === chosen ? 'here' : ''} ${step.problem !== '' ? 'fails' : ''}`}
              >
                <span className="muted number">{numbers.get(step.id)}</span>
                <div
                  className="grow"
                  role="button"
                  tabIndex={0}
                  onClick={() => {
                    onChoose(step.id);
                  }}
                  onKeyDown={(event) => {
                    if (event.key === 'Enter') onChoose(step.id);
                  }}
                >
                  <Said step={step} numbers={numbers} />
                </div>
                <button
                  type="button"
                  className="plain-link count"
                  title={t('clean.seeChanges')}
                  onClick={() => {
                    onChanges(step.id);
                  }}
                >
                  {step.off
                    ? '–'
                    : step.cells + step.rows > 0
                      ? figure(step.cells + step.rows)
                      : step.made.length > 0
                        ? t('clean.newOnes', { count: step.made.length })
                        : 0}
                </button>
                {mayWrite && <Menu {...{ step, at, plan, id, onEdit, onChanges }} onRemark={setRemarking} />}
              </li>
            ),
          )}
        </ol>
      </div>
      {remarking && (
        <Remark
          step={remarking}
          onClose={() => {
            setRemarking(null);
          }}
          onKeep={(remark) => {
            act(
              () => acts.change(id, remarking.id, { remark }),
              () => {
                setRemarking(null);
              },
            );
          }}
        />
      )}
    </section>
  );
}

/** The number of each step: headings have none. */
export function numbersOf(steps: KeptStep[]): Map<number, number> {
  const found = new Map<number, number>();
  for (const step of steps) if (step.body.kind !== 'heading') found.set(step.id, found.size + 1);
  return found;
}

function Said({ step, numbers }: { step: KeptStep; numbers: Map<number, number> }) {
  const { ago } = useMoments();
  const [about, does] = stepWords(step.body);
  const unmet = Object.keys(step.unmet).length;
  const notes = [
    step.body.reason,
    step.remark,
    unmet > 0 ? t('clean.notMet', { count: unmet }) : '',
    ...Object.entries(step.puts_back).map(([other, cells]) =>
      t('clean.putsBack', { cells, step: numbers.get(Number(other)) ?? '?' }),
    ),
    !step.off && step.problem === '' && !onlySays(step.body) && step.cells + step.rows + step.made.length === 0
      ? t('clean.touchesNothingNow')
      : '',
    step.by_rows > 0 ? t('clean.byRows', { count: step.by_rows }) : '',
  ].filter((note) => note !== '');
  return (
    <>
      <span className="said">
        <b className="mono">{about}</b> {does}
      </span>
      {step.problem !== '' && <div className="bad small">{t('clean.noLongerFits', { problem: step.problem })}</div>}
      <div className={`small ${unmet > 0 ? 'doubt' : 'muted'}`}>
        {[...notes, `${step.created_by}, ${ago(step.created_at)}`].join(' · ')}
      </div>
    </>
  );
}

interface MenuProps {
  id: number;
  plan: Plan;
  step: KeptStep;
  at: number;
  onEdit: (step: KeptStep) => void;
  onChanges: (step: number) => void;
  onRemark: (step: KeptStep) => void;
}

function Menu({ id, plan, step, at, onEdit, onChanges, onRemark }: MenuProps) {
  const act = useAct(id);
  const above = plan.steps[at - 2]?.id ?? null;
  const below = plan.steps[at + 1]?.id ?? null;
  const does: Record<string, () => void> = {
    edit: () => {
      onEdit(step);
    },
    off: () => {
      act(() => acts.change(id, step.id, { off: !step.off }));
    },
    up: () => {
      act(() => acts.move(id, step.id, above));
    },
    down: () => {
      act(() => acts.move(id, step.id, below));
    },
    remark: () => {
      onRemark(step);
    },
    changes: () => {
      onChanges(step.id);
    },
    out: () => {
      act(() => acts.takeOut(id, step.id));
    },
  };
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        items: [
          { key: 'edit', label: t('clean.changeStep') },
          { key: 'off', label: t(step.off ? 'clean.switchOn' : 'clean.switchOff') },
          { key: 'up', label: t('clean.moveUp'), disabled: at === 0 },
          { key: 'down', label: t('clean.moveDown'), disabled: below === null },
          { key: 'remark', label: t('clean.remark') },
          { key: 'changes', label: t('clean.seeChanges') },
          { key: 'out', label: t('clean.takeOut') },
        ].filter(({ key }) => step.body.kind !== 'in_order' || key !== 'edit'),
        onClick: ({ key }) => does[key]?.(),
      }}
    >
      <Button size="small" type="text" aria-label={t('clean.stepMenu')}>
        ⋯
      </Button>
    </Dropdown>
  );
}

function Remark({ step, onKeep, onClose }: { step: KeptStep; onKeep: (remark: string) => void; onClose: () => void }) {
  const [remark, setRemark] = useState(step.remark);
  return (
    <Modal
      open
      title={t('clean.remark')}
      okText={t('clean.keep')}
      onCancel={onClose}
      onOk={() => {
        onKeep(remark);
      }}
    >
      <Input.TextArea
        rows={3}
        value={remark}
        aria-label={t('clean.remark')}
        onChange={(event) => {
          setRemark(event.target.value);
        }}
      />
    </Modal>
  );
}
