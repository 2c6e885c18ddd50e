// A new sample: from which frame, how, how many, and what that would give, before anything is drawn.
import { Alert, Button, Input, InputNumber, Select } from 'antd';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { api, ask } from '../../../../shared/api/client';
import { locale, t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';
import { useStudy } from '../../../ui/study';
import { FrameForm } from './FrameForm';
import { BLANK, NONE, useFrame, useTrial, WAYS, type By, type Frame, type FrameTold, type Plan } from './samples';
import { SizeHelp } from './SizeHelp';
import { Strata } from './Strata';

const number = new Intl.NumberFormat(locale);
const figure = new Intl.NumberFormat(locale, { maximumFractionDigits: 3 });
const MOST_SEED = 1_000_000;

interface Props {
  taken: string[];
  onDrawn: (sampleId: number | null) => void;
}

const BEGIN: Omit<Plan, 'seed'> = {
  by: 'stratified',
  size: 200,
  strata: '',
  allocate: 'proportional',
  spread: '',
  measure: '',
  cluster: '',
  clusters: 4,
  reserves: 0,
};

export function NewSample({ taken, onDrawn }: Props) {
  const study = useStudy();
  const queries = useQueryClient();
  const [name, setName] = useState(() => freeName(study.rounds.at(-1)?.name ?? t('samples.sample'), taken));
  const [frame, setFrame] = useState<Frame | null>(null);
  const [plan, setPlan] = useState<Plan>(() => ({ ...BEGIN, seed: Math.floor(Math.random() * MOST_SEED) }));
  const told = useFrame(study.id, frame);
  const columns = frame === null || told.data === undefined ? null : told.data;
  const wanted = useDeferredValue(plan);
  const isWhole = columns !== null && told.error === null && whole(wanted);
  const trial = useTrial(study.id, isWhole ? frame : null, isWhole ? asked(wanted) : null);
  const draw = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/studies/{study_id}/samples', {
          params: { path: { study_id: study.id } },
          body: { name, frame: frame ?? NONE, plan: asked(plan) },
        }),
      ),
    onSuccess: async (sample) => {
      await queries.invalidateQueries({ queryKey: ['study', study.id, 'samples'] });
      onDrawn(sample.id);
    },
  });
  const set = (change: Partial<Plan>) => {
    setPlan({ ...plan, ...change });
  };
  const put =
    <Name extends keyof Plan>(name: Name) =>
    (value: Plan[Name]) => {
      set({ [name]: value });
    };
  const shown = isWhole && trial.error === null ? trial.data : undefined;
  return (
    <div className="columns new-sample">
      <div className="stack">
        <section className="sheet pad">
          <h2>{t('samples.frame')}</h2>
          <FrameForm frame={frame} count={columns?.count} onChange={setFrame} />
          {told.isFetching && columns === null && (
            <p className="muted" role="status">
              {t('samples.looking')}
            </p>
          )}
          {told.error && frame !== null && (
            <Alert type="error" showIcon title={messageOf(told.error)} style={{ marginTop: 8 }} />
          )}
          {columns !== null && told.error === null && <FrameWords told={columns} />}
        </section>
        <section className="sheet pad">
          <h2>{t('samples.how')}</h2>
          <div className="ways" role="radiogroup" aria-label={t('samples.how')}>
            {(Object.keys(WAYS) as By[]).map((by) => (
              <button
                key={by}
                type="button"
                role="radio"
                aria-checked={plan.by === by}
                className="choice-card"
                onClick={() => {
                  set({ by });
                }}
              >
                <b>{WAYS[by].name}</b>
                <span className="muted small">{WAYS[by].means}</span>
              </button>
            ))}
          </div>
          <div className="plan-fields">
            <Whole
              label={plan.by === 'two-stage' ? t('samples.sizeEach') : t('samples.size')}
              least={1}
              value={plan.size}
              onChange={put('size')}
            />
            {plan.by === 'two-stage' && (
              <Whole label={t('samples.clusters')} least={1} value={plan.clusters} onChange={put('clusters')} />
            )}
            {plan.by === 'stratified' && (
              <Column label={t('samples.strata')} told={columns} value={plan.strata} few onChange={put('strata')} />
            )}
            {plan.by === 'stratified' && (
              <label>
                {t('samples.allocate')}
                <Select
                  value={plan.allocate}
                  options={[
                    { value: 'proportional' as const, label: t('samples.proportional') },
                    { value: 'equal' as const, label: t('samples.equal') },
                    { value: 'neyman' as const, label: t('samples.neyman') },
                  ]}
                  onChange={put('allocate')}
                />
              </label>
            )}
            {plan.by === 'stratified' && plan.allocate === 'neyman' && (
              <Column
                label={t('samples.spreadOf')}
                told={columns}
                value={plan.spread}
                numbers
                onChange={put('spread')}
              />
            )}
            {plan.by === 'two-stage' && (
              <Column
                label={t('samples.clusterOf')}
                told={columns}
                value={plan.cluster}
                few
                onChange={put('cluster')}
              />
            )}
            {(plan.by === 'pps' || plan.by === 'two-stage') && (
              <Column
                label={plan.by === 'pps' ? t('samples.measure') : t('samples.measureIfAny')}
                told={columns}
                value={plan.measure}
                numbers
                onChange={put('measure')}
              />
            )}
            {plan.by !== 'systematic' && plan.by !== 'pps' && (
              <Whole
                label={plan.by === 'simple' ? t('samples.reservesWanted') : t('samples.reservesEach')}
                least={0}
                value={plan.reserves}
                onChange={put('reserves')}
              />
            )}
            <Whole label={t('samples.seedField')} least={0} value={plan.seed} onChange={put('seed')} />
          </div>
        </section>
        <section className="sheet">
          {trial.error && isWhole ? (
            <Alert type="error" showIcon title={messageOf(trial.error)} />
          ) : shown === undefined ? (
            <p className="muted pad">{frame === null ? t('samples.chooseFirst') : t('samples.sayHow')}</p>
          ) : shown.strata.length > 0 ? (
            <Strata told={shown} clusters={plan.by === 'two-stage'} />
          ) : (
            <p className="pad" role="status">
              {t('samples.weightsAre', {
                least: figure.format(shown.least_weight),
                most: figure.format(shown.most_weight),
                sum: figure.format(shown.weights),
              })}
            </p>
          )}
        </section>
        {draw.error && <Alert type="error" showIcon title={messageOf(draw.error)} />}
        <div className="row">
          <Input
            aria-label={t('samples.name')}
            style={{ width: 240 }}
            maxLength={64}
            value={name}
            onChange={(event) => {
              setName(event.target.value);
            }}
          />
          <Button
            type="primary"
            disabled={shown === undefined || name.trim() === ''}
            loading={draw.isPending}
            onClick={() => {
              draw.mutate();
            }}
          >
            {shown === undefined ? t('samples.draw') : t('samples.drawThem', { count: shown.drawn })}
          </Button>
          <Button
            type="text"
            onClick={() => {
              onDrawn(null);
            }}
          >
            {t('samples.leave')}
          </Button>
        </div>
      </div>
      <SizeHelp
        frame={columns?.count ?? null}
        size={shown?.drawn ?? plan.size}
        onTake={(size) => {
          set({ size: plan.by === 'two-stage' ? Math.ceil(size / Math.max(1, plan.clusters)) : size });
        }}
      />
    </div>
  );
}

/** Only what the way of drawing reads. */
function asked(plan: Plan): Plan {
  const { by, size, seed } = plan;
  const reserves = by === 'systematic' || by === 'pps' ? 0 : plan.reserves;
  if (by === 'stratified')
    return {
      ...BLANK,
      by,
      size,
      seed,
      reserves,
      strata: plan.strata,
      allocate: plan.allocate,
      spread: plan.allocate === 'neyman' ? plan.spread : '',
    };
  if (by === 'pps') return { ...BLANK, by, size, seed, measure: plan.measure };
  if (by === 'two-stage')
    return {
      ...BLANK,
      by,
      size,
      seed,
      reserves,
      cluster: plan.cluster,
      clusters: plan.clusters,
      measure: plan.measure,
    };
  return { ...BLANK, by, size, seed, reserves };
}

const whole = (plan: Plan): boolean =>
  plan.by === 'stratified'
    ? plan.strata !== '' && (plan.allocate !== 'neyman' || plan.spread !== '')
    : plan.by === 'pps'
      ? plan.measure !== ''
      : plan.by !== 'two-stage' || plan.cluster !== '';

function freeName(wish: string, taken: string[]): string {
  let free = wish;
  for (let at = 2; taken.includes(free); at += 1) free = `${wish} ${String(at)}`;
  return free;
}

function FrameWords({ told }: { told: FrameTold }) {
  return (
    <>
      <p role="status">
        <b>{number.format(told.count)}</b> {t('samples.inTheFrame', { columns: told.columns.length })}
      </p>
      {told.left_out.map((left) => (
        <p key={left.why} className="doubt">
          {left.why === 'twice'
            ? t('samples.leftTwice', { count: left.rows, first: left.first.join(', ') })
            : t('samples.leftNoKey', { count: left.rows, first: left.first.join(', ') })}
        </p>
      ))}
    </>
  );
}

interface ColumnProps {
  label: string;
  told: FrameTold | null;
  value: string;
  numbers?: boolean;
  few?: boolean;
  onChange: (column: string) => void;
}

/** More strata than a reader can look through are probably a mistake. */
const FEW = 1000;

/** A column of the frame; what fits comes first, and what is empty somewhere says so. */
function Column({ label, told, value, numbers = false, few = false, onChange }: ColumnProps) {
  const columns = (told?.columns ?? []).filter(
    (column) => (!numbers || column.numbers) && (!few || column.values <= FEW),
  );
  return (
    <label>
      {label}
      <Select
        value={value === '' ? undefined : value}
        placeholder={t('samples.chooseColumn')}
        allowClear
        showSearch
        popupMatchSelectWidth={false}
        options={columns.map((column) => ({
          value: column.name,
          label: `${column.name} · ${
            column.empty > 0
              ? t('samples.emptyIn', { count: column.empty })
              : t('samples.different', { count: column.values })
          }`,
        }))}
        onChange={(chosen?: string) => {
          onChange(chosen ?? '');
        }}
      />
    </label>
  );
}

interface WholeProps {
  label: string;
  least: number;
  value: number;
  onChange: (value: number) => void;
}

/** A whole number. */
function Whole({ label, least, value, onChange }: WholeProps) {
  return (
    <label>
      {label}
      <InputNumber
        min={least}
        precision={0}
        value={value}
        onChange={(typed) => {
          if (typed != null) onChange(typed);
        }}
      />
    </label>
  );
}
