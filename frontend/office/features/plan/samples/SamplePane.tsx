// One sample, so that a sceptical reader can follow it: from what, how, how many of which, drawn again.
import { Alert, App, Button, Input, Pagination, Segmented } from 'antd';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, ask } from '../../../../shared/api/client';
import { locale, t } from '../../../texts/texts';
import { useMoments } from '../../../ui/moments';
import { Loaded, messageOf } from '../../../ui/states';
import { useMay, useStudy } from '../../../ui/study';
import { useSample, useSampleUnits, WAYS, type Sample } from './samples';
import { Strata } from './Strata';

const number = new Intl.NumberFormat(locale);
const figure = new Intl.NumberFormat(locale, { maximumFractionDigits: 4 });
const PAGE = 50;

export function SamplePane({ sampleId }: { sampleId: number }) {
  const sample = useSample(sampleId);
  return <Loaded query={sample}>{(found) => <Shown sample={found} />}</Loaded>;
}

function Shown({ sample }: { sample: Sample }) {
  const { dayAndTime } = useMoments();
  const { told, plan } = sample;
  const [stratum, setStratum] = useState('');
  return (
    <div className="stack">
      <section className="sheet pad sample-head">
        <Name key={sample.version} sample={sample} />
        <p>
          {t('samples.sentence', {
            drawn: number.format(told.drawn),
            frame: number.format(sample.frame_count),
            source: sample.source_words,
            way: WAYS[plan.by].name,
          })}{' '}
          {howWords(sample)}
        </p>
        <p className="muted">
          {t('samples.drawnBy', { by: sample.created_by, at: dayAndTime(sample.created_at) })} ·{' '}
          {t('samples.seed', { seed: plan.seed })}
          {told.certain > 0 && ` · ${t('samples.certain', { count: told.certain })}`}
          {told.reserves > 0 && ` · ${t('samples.standBy', { count: told.reserves })}`}
        </p>
        {sample.left_out.map((left) => (
          <p key={left.why} className="doubt">
            {left.why === 'twice'
              ? t('samples.leftTwice', { count: left.rows, first: left.first.join(', ') })
              : t('samples.leftNoKey', { count: left.rows, first: left.first.join(', ') })}
          </p>
        ))}
        <Again sample={sample} />
      </section>
      {told.strata.length > 0 && (
        <section className="sheet">
          <Strata told={told} clusters={plan.by === 'two-stage'} chosen={stratum} onChoose={setStratum} />
        </section>
      )}
      {told.strata.length === 0 && (
        <p className="muted">
          {t('samples.weightsAre', {
            least: figure.format(told.least_weight),
            most: figure.format(told.most_weight),
            sum: figure.format(told.weights),
          })}
        </p>
      )}
      <Units sample={sample} stratum={stratum} />
    </div>
  );
}

/** What the plan says besides the way of drawing. */
function howWords({ plan }: Sample): string {
  switch (plan.by) {
    case 'stratified':
      return t(
        plan.allocate === 'neyman'
          ? 'samples.byNeyman'
          : plan.allocate === 'equal'
            ? 'samples.byEqual'
            : 'samples.byProportional',
        { strata: plan.strata, spread: plan.spread },
      );
    case 'pps':
      return t('samples.byMeasure', { measure: plan.measure });
    case 'two-stage':
      return t('samples.byClusters', { clusters: plan.clusters, cluster: plan.cluster, size: plan.size });
    default:
      return '';
  }
}

function Name({ sample }: { sample: Sample }) {
  const study = useStudy();
  const may = useMay();
  const { modal, message } = App.useApp();
  const queries = useQueryClient();
  const [name, setName] = useState(sample.name);
  const path = { sample_id: sample.id };
  const changed = () =>
    Promise.all([
      queries.invalidateQueries({ queryKey: ['study', study.id, 'samples'] }),
      queries.invalidateQueries({ queryKey: ['sample', sample.id] }),
    ]);
  const failed = (error: unknown) => {
    void message.error(messageOf(error), 8);
    setName(sample.name);
  };
  const rename = useMutation({
    mutationFn: () =>
      ask(api.PUT('/api/samples/{sample_id}', { params: { path }, body: { name, version: sample.version } })),
    onSuccess: changed,
    onError: failed,
  });
  const remove = useMutation({
    mutationFn: () => ask(api.DELETE('/api/samples/{sample_id}', { params: { path } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['study', study.id, 'samples'] }),
    onError: failed,
  });
  if (!may('study.write')) return <h2>{sample.name}</h2>;
  return (
    <div className="row">
      <Input
        className="sample-name"
        variant="borderless"
        aria-label={t('samples.name')}
        maxLength={64}
        value={name}
        onChange={(event) => {
          setName(event.target.value);
        }}
        onBlur={() => {
          if (name.trim() !== '' && name !== sample.name) rename.mutate();
        }}
        onPressEnter={(event) => {
          event.currentTarget.blur();
        }}
      />
      <span className="grow" />
      <Button
        type="text"
        danger
        onClick={() => {
          modal.confirm({
            title: t('samples.remove', { name: sample.name }),
            content: t('samples.removeMeans', { seed: sample.plan.seed }),
            okText: t('samples.removeIt'),
            onOk: () => remove.mutateAsync().catch(() => undefined),
          });
        }}
      >
        {t('samples.removeIt')}
      </Button>
    </div>
  );
}

/** How anybody draws the same units again, and that it was done. */
function Again({ sample }: { sample: Sample }) {
  const again = useQuery({
    queryKey: ['sample', sample.id, 'again'],
    queryFn: () => ask(api.GET('/api/samples/{sample_id}/again', { params: { path: { sample_id: sample.id } } })),
    enabled: false,
    gcTime: 0,
  });
  const { data } = again;
  return (
    <>
      <div className="row sample-again">
        <Button
          loading={again.isFetching}
          onClick={() => {
            void again.refetch();
          }}
        >
          {t('samples.again')}
        </Button>
        <a href={`/api/samples/${String(sample.id)}/file`}>{t('samples.sampleFile')}</a>
        <a href={`/api/samples/${String(sample.id)}/frame`}>{t('samples.frameFile')}</a>
      </div>
      {again.error && <Alert type="error" showIcon title={messageOf(again.error)} />}
      {data !== undefined && (
        <p role="status" className={data.same ? 'good' : 'bad'}>
          {data.same ? t('samples.sameAgain', { count: data.drawn }) : t('samples.notTheSame')}
          {data.new != null &&
            data.gone != null &&
            (data.new + data.gone === 0
              ? ` ${t('samples.frameStands')}`
              : ` ${t('samples.since', { added: number.format(data.new), gone: number.format(data.gone) })}`)}
        </p>
      )}
      <details className="sample-proof">
        <summary>{t('samples.elsewhere')}</summary>
        <p className="muted">{t('samples.elsewhereMeans')}</p>
        <code>{sample.command}</code>
        <p className="muted small">
          {t('samples.frameHash')} <code>{sample.frame_hash}</code>
        </p>
      </details>
    </>
  );
}

function Units({ sample, stratum }: { sample: Sample; stratum: string }) {
  const study = useStudy();
  const [reserves, setReserves] = useState(false);
  const [page, setPage] = useState(1);
  const [seen, setSeen] = useState(stratum);
  // Another stratum begins at its first page.
  if (seen !== stratum) {
    setSeen(stratum);
    setPage(1);
  }
  const units = useSampleUnits(sample.id, { reserves, stratum, offset: (page - 1) * PAGE, limit: PAGE });
  return (
    <section>
      <div className="row section-head">
        <h2>{stratum === '' ? t('samples.units') : t('samples.unitsIn', { stratum })}</h2>
        {sample.told.reserves > 0 && (
          <Segmented
            size="small"
            value={reserves ? 'reserves' : 'drawn'}
            options={[
              { value: 'drawn', label: t('samples.drawnOnes') },
              { value: 'reserves', label: t('samples.reserves') },
            ]}
            onChange={(value) => {
              setReserves(value === 'reserves');
              setPage(1);
            }}
          />
        )}
      </div>
      <Loaded query={units}>
        {({ lines, total }) => (
          <>
            <div className="sheet">
              <table className="listing">
                <thead>
                  <tr>
                    <th>{t('samples.unit')}</th>
                    <th>{sample.plan.by === 'two-stage' ? t('samples.cluster') : t('samples.stratum')}</th>
                    <th className="figure">{t('samples.probability')}</th>
                    <th className="figure">{t('samples.weight')}</th>
                    <th className="figure">{t('samples.order')}</th>
                  </tr>
                </thead>
                <tbody>
                  {lines.map((line) => (
                    <tr key={`${line.key} ${String(line.rank)} ${line.stratum}`}>
                      <th scope="row">
                        {line.unit_id == null ? (
                          <code>{line.key}</code>
                        ) : (
                          <Link to={`/studies/${String(study.id)}/plan/registers?unit=${String(line.unit_id)}`}>
                            {line.label} {line.label !== line.key && <code>{line.key}</code>}
                          </Link>
                        )}
                        {line.closed && <span className="muted small"> {t('samples.closedSince')}</span>}
                      </th>
                      <td>{line.stratum || line.cluster}</td>
                      <td className="figure">{figure.format(line.probability)}</td>
                      <td className="figure">{figure.format(line.weight)}</td>
                      <td className="figure">{line.rank}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
            {total > PAGE && (
              <Pagination
                size="small"
                current={page}
                pageSize={PAGE}
                total={total}
                showSizeChanger={false}
                onChange={setPage}
              />
            )}
          </>
        )}
      </Loaded>
    </section>
  );
}
