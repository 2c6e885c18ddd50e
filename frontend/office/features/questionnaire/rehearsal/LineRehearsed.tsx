import type { Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { shown } from '../../data';
import { holdsParts, type Part } from '../script/model';
import { GoTo } from './OrderedWork';
import type { Proof, Rehearsal } from './rehearsal';

/** How often the line in hand is asked, what its rules come to, and what was proved of it. */
export function LineRehearsed({
  part,
  rehearsal,
  proof,
  measured,
  onGo,
}: {
  part: Part;
  rehearsal: Rehearsal | null;
  proof: Proof | null;
  /** What it took in interviews, null where none was timed. */
  measured: Schemas['Measured'] | null;
  onGo: (variable: string) => void;
}) {
  const name = part.variable;
  const reach = rehearsal?.reach.find((r) => r.variable === name && name !== '');
  const rules = rehearsal?.rules.filter((r) => r.variable === (name === '' ? part.id : name)) ?? [];
  const checks = proof?.checks.filter((c) => c.variable === name) ?? [];
  const never =
    proof?.unreachable.find((u) => u.variable === name) ?? proof?.dead_ends?.find((d) => d.variable === name);
  const leads = proof?.reached.find((r) => r.variable === name);
  if (holdsParts(part) && rules.length === 0) return null;
  return (
    <section className="line-rehearsed">
      <h3>
        {t('rehearsal.ofLine')} <code>{name === '' ? part.kind : name}</code>
      </h3>
      {rehearsal && reach && rehearsal.made > 0 && (
        <>
          <Shares parts={[{ tone: 'yes', count: reach.asked }]} of={rehearsal.made} />
          <p>
            {t('rehearsal.asked', {
              count: reach.asked,
              made: rehearsal.made,
              share: shareOf(reach.asked, rehearsal.made),
            })}
            {reach.kind !== 'statement' && reach.asked > 0 && ` ${t('rehearsal.answered', { count: reach.answered })}`}
            {reach.seconds != null && ` ${t('rehearsal.seconds', { seconds: reach.seconds })}`}
          </p>
        </>
      )}
      {measured && (
        <p>{t('rehearsal.measured', { count: measured.interviews, seconds: measured.seconds.toFixed(0) })}</p>
      )}
      {rules.map((rule) => (
        <div key={`${rule.field} ${rule.rule}`} className="fired">
          <p>
            <span className="muted small">{rule.field}</span> <code>{rule.rule}</code>
          </p>
          <Shares
            parts={[
              { tone: 'yes', count: rule.yes },
              { tone: 'no', count: rule.no },
              { tone: 'unknown', count: rule.unknown },
            ]}
            of={rule.yes + rule.no + rule.unknown}
          />
          <p className="small">
            {t('rehearsal.outcomes', { yes: rule.yes, no: rule.no, unknown: rule.unknown })}
            {rule.tried > 0 && ` · ${t('rehearsal.tried', { count: rule.tried })}`}
          </p>
        </div>
      ))}
      {never && <p className="bad">{t('rehearsal.neverProved', { why: never.why })}</p>}
      {checks
        .filter((check) => check.verdict !== 'sound')
        .map((check) => (
          <p key={check.rule} className="doubt">
            {t('rehearsal.checkVerdict', { rule: check.rule, verdict: check.verdict, why: check.why })}
          </p>
        ))}
      {leads && Object.keys(leads.answers).length > 0 && (
        <p className="small">
          <span className="muted">{t('rehearsal.fewestAnswers')}</span>{' '}
          {Object.entries(leads.answers).map(([path, value], i) => (
            <span key={path}>
              {i > 0 && ' · '}
              <GoTo variable={path.split('/').at(-1) ?? path} onGo={onGo} />{' '}
              <span className="mono">{shown(value)}</span>
            </span>
          ))}
        </p>
      )}
      {rehearsal && !reach && rules.length === 0 && <p className="muted">{t('rehearsal.notMetYet')}</p>}
    </section>
  );
}

const shareOf = (count: number, of: number): string => `${String(Math.round((100 * count) / of))} %`;

/** A bar of shares; whoever cannot see it has the figures below it. */
function Shares({ parts, of }: { parts: { tone: 'yes' | 'no' | 'unknown'; count: number }[]; of: number }) {
  return (
    <div className="shares" aria-hidden>
      {parts.map((part) => (
        <i
          key={part.tone}
          className={part.tone}
          style={{ width: `${String(of === 0 ? 0 : (100 * part.count) / of)}%` }}
        />
      ))}
    </div>
  );
}
