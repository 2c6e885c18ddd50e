// The clean station: every variable, what stands out in one, and the plan that mends it.
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useVariables } from '../data';
import { useMay, useQuestionnaireId, useStudy } from '../../ui/study';
import { Empty, Loaded } from '../../ui/states';
import { t } from '../../texts/texts';
import { Changes } from './Changes';
import './clean.css';
import { acts, useAct, usePlan, useProfile, type Draft, type Plan, type Profile } from './plan';
import { PlanPane } from './PlanPane';
import { States } from './States';
import { StepEditor } from './StepEditor';
import { kindOf } from './steps';
import { VariablePane } from './VariablePane';
import { Variables } from './Variables';

export default function Clean() {
  const id = useQuestionnaireId();
  const study = useStudy();
  return id === null || study.interviews === 0 ? (
    <div className="page">
      <div className="sheet">
        <Empty title={t('clean.nothingCleanYet')}>{t('clean.onceInterviewsArriveSteps')}</Empty>
      </div>
    </div>
  ) : (
    <Station key={id} id={id} />
  );
}

function Station({ id }: { id: number }) {
  const plan = usePlan(id);
  const profile = useProfile(id);
  return (
    <Loaded query={plan}>
      {(steps) => <Loaded query={profile}>{(profiles) => <Panes id={id} plan={steps} profiles={profiles} />}</Loaded>}
    </Loaded>
  );
}

/** The step that is being written, and which one it takes the place of. */
interface Editing {
  draft: Draft;
  changes: number | null;
}

function Panes({ id, plan, profiles }: { id: number; plan: Plan; profiles: Profile[] }) {
  const study = useStudy();
  const may = useMay();
  const mayWrite = may('clean.write');
  const [params, setParams] = useSearchParams();
  const [editing, setEditing] = useState<Editing | null>(null);
  const [changes, setChanges] = useState<number | 'all' | null>(null);
  const [comparing, setComparing] = useState(false);
  const act = useAct(id);
  const variables = useVariables(id);
  const first = profiles.find((p) => p.findings.length > 0) ?? profiles[0];
  const chosen = profiles.find((p) => p.variable === params.get('variable')) ?? first;
  const step = Number(params.get('step')) || null;
  const go = (name: 'variable' | 'step', value: string) => {
    setParams((now) => {
      now.set(name, value);
      return now;
    });
  };
  const edit = (draft: Draft, changed: number | null = null) => {
    setEditing({ draft, changes: changed });
  };
  return (
    <div className="clean">
      <Variables
        profiles={profiles}
        chosen={chosen?.variable ?? ''}
        onChoose={(variable) => {
          go('variable', variable);
        }}
      />
      {chosen && (
        <VariablePane
          key={chosen.variable}
          profile={chosen}
          studyId={study.id}
          mayWrite={mayWrite}
          onStep={edit}
          onInOrder={(finding, reason) => {
            const body = {
              kind: 'in_order' as const,
              variable: chosen.variable,
              finding: finding.kind,
              count: finding.count,
              reason,
            };
            act(() => acts.keep(id, body, null));
          }}
        />
      )}
      {editing ? (
        <StepEditor
          key={JSON.stringify([editing.draft, editing.changes])}
          id={id}
          draft={editing.draft}
          changes={editing.changes}
          variables={variables.data ?? []}
          profiles={profiles}
          onClose={() => {
            setEditing(null);
          }}
        />
      ) : (
        <PlanPane
          id={id}
          plan={plan}
          mayWrite={mayWrite}
          chosen={step}
          onChoose={(chosenStep) => {
            go('step', String(chosenStep));
            const body = plan.steps.find((s) => s.id === chosenStep)?.body;
            if (body && 'variable' in body) go('variable', body.variable);
          }}
          onNew={(draft) => {
            const own = kindOf(draft.kind)?.fields.find((f) => f.name === 'variable');
            const fits = chosen && own && (own.measures === undefined || own.measures.includes(chosen.measure));
            edit(fits ? { ...draft, variable: chosen.variable } : draft);
          }}
          onEdit={(kept) => {
            edit({ ...kept.body }, kept.id);
          }}
          onChanges={setChanges}
        />
      )}
      <div className="status">
        <span>{t('clean.revision', { revision: plan.revision })}</span>
        <span>{t('clean.over', { count: study.interviews })}</span>
        {plan.left_out > 0 && <span>{t('clean.rowsLeftOut', { count: plan.left_out })}</span>}
        <span className="grow" />
        <Link to={`/studies/${String(study.id)}/clean/copies`}>{t('clean.findCopies')}</Link>
        <button
          type="button"
          className="plain-link"
          onClick={() => {
            setChanges('all');
          }}
        >
          {t('clean.everyChangedCell')}
        </button>
        <a href={`/api/questionnaires/${String(id)}/plan/text`} target="_blank" rel="noreferrer">
          {t('clean.asText')}
        </a>
        {may('extract.make') && (
          <Link to={`/studies/${String(study.id)}/hand-over?format=script`}>{t('clean.asScript')}</Link>
        )}
        <button
          type="button"
          className="plain-link"
          onClick={() => {
            setComparing(true);
          }}
        >
          {t('clean.compareStates')}
        </button>
      </div>
      {changes !== null && (
        <Changes
          id={id}
          studyId={study.id}
          plan={plan}
          step={changes === 'all' ? null : changes}
          onStep={(of) => {
            setChanges(of ?? 'all');
          }}
          onClose={() => {
            setChanges(null);
          }}
        />
      )}
      {comparing && (
        <States
          id={id}
          now={plan.state}
          onClose={() => {
            setComparing(false);
          }}
        />
      )}
    </div>
  );
}
