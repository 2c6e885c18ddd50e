// A step is tried as it is written: what it does is seen before it is kept.
import { Alert, Button, Input } from 'antd';
import { useMemo, useState } from 'react';
import { useQuery } from '@tanstack/react-query';
import { api, ask } from '../../../shared/api/client';
import type { Variable } from '../data';
import { useSettled } from '../../ui/useSettled';
import { figure, t } from '../../texts/texts';
import { acts, useAct, type Draft, type Preview, type Profile, type StepBody } from './plan';
import { CellRows } from './CellRows';
import { StepFields } from './StepFields';
import { isWhole, kindOf } from './steps';

interface Props {
  id: number;
  draft: Draft;
  /** The step that is changed; a new one without it. */
  changes: number | null;
  variables: Variable[];
  profiles: Profile[];
  onClose: () => void;
}

const NEEDS_REASON = new Set(['correct', 'leave_out']);

export function StepEditor({ id, draft: begun, changes, variables, profiles, onClose }: Props) {
  const [draft, setDraft] = useState(begun);
  const act = useAct(id);
  const kind = kindOf(draft.kind);
  const whole = kind !== undefined && isWhole(draft, kind.fields);
  // A reason is asked for last: what a step would do can be seen without one.
  const tried = useMemo(
    () => ({ ...draft, reason: NEEDS_REASON.has(draft.kind) && !draft.reason ? '…' : (draft.reason ?? '') }),
    [draft],
  );
  const settled = useSettled(JSON.stringify(tried));
  const trial = useQuery({
    queryKey: ['data', id, 'trial', settled, changes],
    enabled: whole,
    retry: false,
    queryFn: () =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/plan/preview', {
          params: { path: { questionnaire_id: id } },
          body: { step: JSON.parse(settled) as StepBody, after: null, instead_of: changes },
        }),
      ),
  });
  const reason = typeof draft.reason === 'string' ? draft.reason : '';
  const missesReason = NEEDS_REASON.has(draft.kind) && reason.trim() === '';
  const keep = () => {
    const step = { ...draft, reason } as unknown as StepBody;
    act(() => (changes === null ? acts.keep(id, step, null) : acts.change(id, changes, { step })), onClose);
  };
  const isHeading = draft.kind === 'heading';
  const ready = whole && !missesReason && (isHeading || (trial.data !== undefined && !trial.isFetching));
  return (
    <section className="clean-plan trial" aria-label={t('clean.trial')}>
      <div className="pane-head">
        <h2>{kind?.label ?? draft.kind}</h2>
        <span className="grow" />
        <Button size="small" type="text" onClick={onClose} aria-label={t('clean.leave')}>
          ×
        </Button>
      </div>
      <div className="pane-body">
        <div className="step-form">
          {kind && (
            <StepFields
              questionnaireId={id}
              fields={kind.fields}
              draft={draft}
              variables={variables}
              profiles={profiles}
              onChange={setDraft}
            />
          )}
          {!isHeading && (
            <label>
              <span>{t('common.why')}</span>
              <Input
                value={reason}
                placeholder={
                  NEEDS_REASON.has(draft.kind) ? t('clean.correctionNeedsItsReason') : t('clean.whoeverAsksLater')
                }
                onChange={(event) => {
                  setDraft({ ...draft, reason: event.target.value });
                }}
              />
            </label>
          )}
        </div>
        {!isHeading && (
          <div className="trial-box" aria-live="polite">
            {!whole && <p className="muted">{t('clean.whatStepTouchesShown')}</p>}
            {whole && trial.error && <Alert type="error" showIcon title={trial.error.message} />}
            {whole && trial.data && !trial.error && <Shown trial={trial.data} />}
          </div>
        )}
        <div className="trial-acts">
          <Button type="primary" disabled={!ready} onClick={keep}>
            {t('clean.keepIt')}
          </Button>
          <Button onClick={onClose}>{t('clean.leave')}</Button>
          {missesReason && whole && <span className="small muted">{t('clean.correctionNeedsItsReason')}</span>}
        </div>
      </div>
    </section>
  );
}

const rounded = (value: number | null | undefined) =>
  value === null || value === undefined ? '–' : figure(Math.round(value * 100) / 100);

function Shown({ trial }: { trial: Preview }) {
  const { before, after } = trial;
  const touched = trial.cells + trial.rows;
  const interviews = t('common.interviewCount', { count: trial.interviews });
  return (
    <>
      <p>
        <b>
          {trial.made.length > 0
            ? t('clean.makes', { variables: trial.made.slice(0, 4).join(', ') })
            : touched === 0
              ? t('clean.touchesNothing')
              : trial.rows > 0
                ? t('clean.leavesOutRows', { count: trial.rows, interviews })
                : t('clean.touchesCells', { cells: t('clean.cellCount', { count: trial.cells }), interviews })}
        </b>
        {trial.by_rows > 0 && <span className="muted"> · {t('clean.byRows', { count: trial.by_rows })}</span>}
      </p>
      {trial.changes.length > 0 && <CellRows cells={trial.changes.slice(0, 12)} />}
      {trial.left_out.length > 0 && (
        <table className="trial-cells">
          <tbody>
            {trial.left_out.slice(0, 12).map((r) => (
              <tr key={[r.interview, ...r.row].join('.')}>
                <td className="mono">{[r.interview, ...r.row].join(' / ')}</td>
                <td className="muted">
                  {r.copy_of !== null ? t('clean.copyOf', { other: r.copy_of }) : t('clean.goes')}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {Object.keys(trial.unmet).length > 0 && (
        <p className="small doubt">
          {t('clean.notMetYet', { texts: Object.keys(trial.unmet).slice(0, 8).join(', ') })}
        </p>
      )}
      {after !== null && after.mean !== null && (
        <p className="small">
          {before
            ? t('clean.meanGoes', { before: rounded(before.mean), after: rounded(after.mean) })
            : t('clean.meanIs', { mean: rounded(after.mean) })}
          {' · '}
          {before && before.base !== after.base
            ? t('clean.baseGoes', { before: before.base, after: after.base })
            : t('clean.baseStays', { base: after.base })}
        </p>
      )}
      {after?.mean === null && trial.made.length > 0 && (
        <p className="small muted">
          {Object.entries(after.values)
            .slice(0, 8)
            .map(([value, count]) => `${value} ${figure(count)}`)
            .join(' · ')}
        </p>
      )}
    </>
  );
}
