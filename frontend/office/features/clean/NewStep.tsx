import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Alert, App, Input, Modal, Segmented, Select, Table } from 'antd';
import { useEffect, useMemo, useState } from 'react';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { MISSING, shown, variableChoices, type Variable } from '../data';
import type { StepBody } from './steps';
import { t } from '../../texts/texts';

interface Props {
  questionnaireId: number;
  variables: Variable[];
  onClose: () => void;
}

type Kind = StepBody['kind'];
const KINDS: { value: Kind; label: string }[] = [
  { value: 'recode', label: t('clean.recode') },
  { value: 'correct', label: t('clean.correctOneValue') },
  { value: 'mark_missing', label: t('clean.markMissing') },
];
const TRY_AFTER_MS = 400;

/** A step is tried as it is written: what it touches is seen before it is kept. */
export function NewStep({ questionnaireId, variables, onClose }: Props) {
  const [kind, setKind] = useState<Kind>('mark_missing');
  const [variable, setVariable] = useState('');
  const [reason, setReason] = useState('');
  const [mapping, setMapping] = useState<Record<string, string>>({});
  const [interview, setInterview] = useState('');
  const [row, setRow] = useState('');
  const [value, setValue] = useState('');
  const [rule, setRule] = useState('');
  const [missing, setMissing] = useState<'unanswered' | 'dont_know' | 'refused'>('unanswered');
  const column = variables.find((v) => v.variable === variable);

  const step = useMemo<StepBody | null>(() => {
    if (!column) return null;
    if (kind === 'recode') {
      const used = Object.fromEntries(Object.entries(mapping).filter(([, to]) => to.trim() !== ''));
      return Object.keys(used).length > 0 ? { kind, variable, reason, mapping: used } : null;
    }
    if (kind === 'correct') {
      if (interview.trim() === '' || value.trim() === '') return null;
      const rows = column.table === 'interviews' ? [] : row.split(/[\s,]+/).filter((r) => r !== '');
      return {
        kind,
        variable,
        reason: reason === '' ? '…' : reason,
        interview: interview.trim().padStart(4, '0'),
        row: rows,
        value: typed(column, value.trim()),
      };
    }
    return rule.trim() === '' ? null : { kind, variable, reason, rule, missing };
  }, [column, kind, variable, reason, mapping, interview, row, value, rule, missing]);

  const attempt = useMutation({
    mutationFn: (body: StepBody) =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/plan/preview', {
          params: { path: { questionnaire_id: questionnaireId } },
          body: { step: body },
        }),
      ),
  });
  const { mutate: tryStep, reset } = attempt;
  useEffect(() => {
    if (step === null) {
      reset();
      return;
    }
    const timer = window.setTimeout(() => {
      tryStep(step);
    }, TRY_AFTER_MS);
    return () => {
      window.clearTimeout(timer);
    };
  }, [step, tryStep, reset]);

  const queries = useQueryClient();
  const { message } = App.useApp();
  const keep = useMutation({
    mutationFn: (body: StepBody) =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/plan/steps', {
          params: { path: { questionnaire_id: questionnaireId } },
          body: { step: body },
        }),
      ),
    onSuccess: (plan) => {
      queries.setQueryData(['data', questionnaireId, 'plan'], plan);
      void queries.invalidateQueries({ queryKey: ['data', questionnaireId] });
      void message.success(t('clean.stepKeptReplayedWhenever'));
      onClose();
    },
  });
  const preview = attempt.data;
  const needsReason = kind === 'correct' && reason.trim() === '';
  const usable = kind === 'recode' ? variables.filter((v) => v.measure === 'code' || v.measure === 'text') : variables;

  return (
    <Modal
      open
      width={760}
      title={t('clean.stepCleaningPlan')}
      okText={preview ? t('clean.keepCells', { count: preview.touched }) : t('clean.keep')}
      okButtonProps={{ disabled: !preview || preview.touched === 0 || needsReason }}
      confirmLoading={keep.isPending}
      onCancel={onClose}
      onOk={() => {
        if (step && !keep.isPending) keep.mutate(step);
      }}
    >
      <Segmented<Kind>
        options={KINDS}
        value={kind}
        onChange={(k) => {
          setKind(k);
          reset();
        }}
      />
      <div className="step-form">
        <label>
          {t('common.variable')}
          <Select
            showSearch={{ optionFilterProp: 'label' }}
            value={variable === '' ? null : variable}
            placeholder={t('common.whichVariable')}
            options={variableChoices(usable)}
            onChange={(v: string) => {
              setVariable(v);
              setMapping({});
            }}
          />
        </label>
        {kind === 'recode' && column && (
          <Mapping column={column} questionnaireId={questionnaireId} mapping={mapping} onChange={setMapping} />
        )}
        {kind === 'correct' && (
          <div className="row">
            <label>
              {t('common.interview')}
              <Input
                className="mono"
                value={interview}
                placeholder="0132"
                onChange={(e) => {
                  setInterview(e.target.value);
                }}
              />
            </label>
            {column !== undefined && column.table !== 'interviews' && (
              <label>
                {t('clean.row', { table: column.table })}
                <Input
                  className="mono"
                  value={row}
                  placeholder="1"
                  onChange={(e) => {
                    setRow(e.target.value);
                  }}
                />
              </label>
            )}
            <label className="grow">
              {t('clean.rightValue')}
              {column && Object.keys(column.codes).length > 0 && column.measure === 'code' ? (
                <Select
                  value={value === '' ? null : value}
                  options={Object.entries(column.codes).map(([c, l]) => ({ value: c, label: `${c} · ${l}` }))}
                  onChange={setValue}
                />
              ) : (
                <Input
                  value={value}
                  onChange={(e) => {
                    setValue(e.target.value);
                  }}
                />
              )}
            </label>
          </div>
        )}
        {kind === 'mark_missing' && (
          <div className="row">
            <label className="grow">
              {t('clean.where')}
              <Input
                className="mono"
                value={rule}
                placeholder="earnings > 2000 * workers"
                status={attempt.error && rule !== '' ? 'error' : ''}
                onChange={(e) => {
                  setRule(e.target.value);
                }}
              />
            </label>
            <label>
              {t('clean.as')}
              <Select
                value={missing}
                options={(['unanswered', 'dont_know', 'refused'] as const).map((m) => ({
                  value: m,
                  label: MISSING[m],
                }))}
                onChange={setMissing}
              />
            </label>
          </div>
        )}
        <label>
          {t('common.why')}
          <Input
            value={reason}
            placeholder={kind === 'correct' ? t('clean.correctionNeedsItsReason') : t('clean.whoeverAsksLater')}
            onChange={(e) => {
              setReason(e.target.value);
            }}
          />
        </label>
      </div>
      {attempt.error && step && <Alert type="error" showIcon title={attempt.error.message} />}
      {keep.error && <Alert type="error" showIcon title={keep.error.message} />}
      {preview && <PreviewTable preview={preview} />}
      {!preview && !attempt.error && <p className="muted">{t('clean.whatStepTouchesShown')}</p>}
    </Modal>
  );
}

/** What was typed, as the kind of the variable holds it. */
function typed(column: Variable, text: string): unknown {
  if (column.measure === 'yes/no')
    return text.toLowerCase() === 'yes' || text === '1'
      ? true
      : text.toLowerCase() === 'no' || text === '0'
        ? false
        : text;
  if (column.measure === 'codes') return text.split(/[\s,]+/);
  return text;
}

function Mapping({
  column,
  questionnaireId,
  mapping,
  onChange,
}: {
  column: Variable;
  questionnaireId: number;
  mapping: Record<string, string>;
  onChange: (mapping: Record<string, string>) => void;
}) {
  // The values that occur, from a trial that changes nothing.
  const values = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/plan/preview', {
          params: { path: { questionnaire_id: questionnaireId } },
          body: {
            step: { kind: 'mark_missing', variable: column.variable, reason: '', missing: 'unanswered', rule: 'no' },
          },
        }),
      ),
  });
  const { mutate } = values;
  useEffect(() => {
    mutate();
  }, [mutate, column.variable]);
  const found = Object.entries(values.data?.before ?? {}).filter(([v]) => !v.startsWith('['));
  const codes = Object.entries(column.codes).map(([c, l]) => ({ value: c, label: `${c} · ${l}` }));
  return (
    <div className="mapping">
      {found.map(([from, count]) => (
        <div key={from} className="row">
          <span className="grow">
            <code>{from}</code>{' '}
            <span className="muted">
              {column.codes[from]} · {count}
            </span>
          </span>
          <span>→</span>
          {column.measure === 'code' ? (
            <Select
              allowClear
              style={{ width: 260 }}
              placeholder={t('clean.stays')}
              value={mapping[from] ?? null}
              options={codes}
              onChange={(to: string | undefined) => {
                onChange({ ...mapping, [from]: to ?? '' });
              }}
            />
          ) : (
            <Input
              style={{ width: 260 }}
              placeholder={t('clean.stays')}
              value={mapping[from] ?? ''}
              onChange={(e) => {
                onChange({ ...mapping, [from]: e.target.value });
              }}
            />
          )}
        </div>
      ))}
      {values.data && found.length === 0 && <p className="muted">{t('clean.noInterviewHasValue')}</p>}
    </div>
  );
}

function PreviewTable({ preview }: { preview: Schemas['Preview'] }) {
  const values = [...new Set([...Object.keys(preview.before), ...Object.keys(preview.after)])].filter(
    (v) => preview.before[v] !== preview.after[v],
  );
  return (
    <>
      <p>
        <b>
          {preview.touched === 0
            ? t('clean.touchesNothing')
            : t('clean.touchesCellsInterviews', { touched: preview.touched, interviews: preview.interviews })}
        </b>
        {values.length > 0 && values.length <= 6 && (
          <span className="muted">
            {' '}
            {values
              .map((v) => `${v}: ${String(preview.before[v] ?? 0)} → ${String(preview.after[v] ?? 0)}`)
              .join(' · ')}
          </span>
        )}
      </p>
      {preview.changes.length > 0 && (
        <Table<Schemas['ChangeOut']>
          size="small"
          rowKey={(c) => `${c.interview}.${c.row.join('.')}`}
          pagination={false}
          scroll={{ y: 200 }}
          dataSource={preview.changes}
          columns={[
            {
              title: t('common.interview'),
              width: 120,
              render: (_, c) => <code>{[c.interview, ...c.row].join(' / ')}</code>,
            },
            { title: t('clean.before'), align: 'right', render: (_, c) => <s className="muted">{shown(c.before)}</s> },
            { title: t('clean.after'), align: 'right', render: (_, c) => <b>{shown(c.after)}</b> },
          ]}
        />
      )}
    </>
  );
}
