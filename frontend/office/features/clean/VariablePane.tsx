// One variable: its figures, its shape, what stands out in it and what would mend that.
import { Button, Dropdown } from 'antd';
import { MISSING } from '../data';
import { figure, t } from '../../texts/texts';
import { Findings, type Props } from './Findings';
import { Histogram } from './Shape';
import { STEP_KINDS } from './steps';

const plain = (value: number) => figure(Math.round(value * 100) / 100);

export function VariablePane({ profile, studyId, mayWrite, onStep, onInOrder }: Props) {
  const { figures } = profile;
  const kinds = STEP_KINDS.filter(({ fields }) => {
    const own = fields.find((f) => f.name === 'variable');
    return own !== undefined && (own.measures === undefined || own.measures.includes(profile.measure));
  });
  return (
    <section className="clean-variable" aria-label={profile.variable}>
      <div className="variable-title">
        <h1 className="mono">{profile.variable}</h1>
        <span className="muted">{profile.label === profile.variable ? '' : profile.label}</span>
        <span className="grow" />
        {mayWrite && (
          <Dropdown
            trigger={['click']}
            menu={{
              items: kinds.map(({ kind, label }) => ({ key: kind, label })),
              onClick: ({ key }) => {
                const chosen = kinds.find(({ kind }) => kind === key);
                if (chosen) onStep({ kind: chosen.kind, ...chosen.begins, variable: profile.variable });
              },
            }}
          >
            <Button size="small">{t('clean.stepFor')}</Button>
          </Dropdown>
        )}
      </div>
      <p className="small muted">
        {[
          t(profile.table === 'interviews' ? 'clean.ofInterviews' : 'clean.ofRows', {
            base: figures.base,
            rows: profile.rows,
            table: profile.table,
          }),
          ...Object.entries(figures.missing).map(([kind, count]) => `${MISSING[kind] ?? kind} ${figure(count)}`),
          t('clean.distinct', { count: profile.distinct }),
        ].join(' · ')}
      </p>
      {profile.bars.length > 0 ? <Histogram profile={profile} /> : <p className="muted">{t('clean.noAnswerYet')}</p>}
      {figures.mean !== null && figures.lowest !== null && figures.highest !== null && (
        <p className="small muted">
          {t('clean.figures', {
            mean: plain(figures.mean),
            lowest: plain(figures.lowest),
            highest: plain(figures.highest),
          })}
        </p>
      )}
      <h2>{t('clean.standsOut')}</h2>
      {profile.findings.length === 0 && <p className="muted">{t('clean.nothingStandsOut')}</p>}
      <Findings profile={profile} studyId={studyId} mayWrite={mayWrite} onStep={onStep} onInOrder={onInOrder} />
      <p className="small muted">{t('clean.rawStays')}</p>
    </section>
  );
}
