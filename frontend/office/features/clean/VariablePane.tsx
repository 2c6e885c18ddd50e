// One variable: its figures, its shape, what stands out in it and what would mend that.
import { Button, Dropdown, Input, Popconfirm } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { MISSING } from '../data';
import { t } from '../../texts/texts';
import type { Draft, Finding, Profile } from './plan';
import { Histogram } from './Shape';
import { STEP_KINDS } from './steps';

interface Props {
  profile: Profile;
  studyId: number;
  mayWrite: boolean;
  onStep: (draft: Draft) => void;
  onInOrder: (finding: Finding, reason: string) => void;
}

const plain = (value: number) => String(Math.round(value * 100) / 100);

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
          ...Object.entries(figures.missing).map(([kind, count]) => `${MISSING[kind] ?? kind} ${String(count)}`),
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
      <ul className="stands-out">
        {profile.findings.map((finding) => (
          <li key={finding.kind}>
            <b className={GRAVE.has(kindOfFinding(finding)) ? 'bad' : 'doubt'}>{finding.count}</b>
            <div className="grow">
              {findingWords(finding)}
              {finding.shown.length > 0 && <div className="small muted shown">{finding.shown.join(', ')}</div>}
              {finding.rule !== '' && <code className="small muted">{finding.rule}</code>}
            </div>
            <div className="does">
              {mayWrite && finding.step !== null && (
                <Button
                  size="small"
                  onClick={() => {
                    onStep({ ...(finding.step as Draft) });
                  }}
                >
                  {t(MENDS[finding.step.kind] ?? 'clean.mend')}
                </Button>
              )}
              {finding.interviews.length > 0 && (
                <Link to={`/studies/${String(studyId)}/interviews?keys=${finding.interviews.join(',')}`}>
                  {t('clean.look')}
                </Link>
              )}
              {mayWrite && (
                <InOrder
                  onSay={(reason) => {
                    onInOrder(finding, reason);
                  }}
                />
              )}
            </div>
          </li>
        ))}
      </ul>
      <p className="small muted">{t('clean.rawStays')}</p>
    </section>
  );
}

const GRAVE = new Set(['hundredfold', 'unknown_codes', 'after_interview', 'more_than', 'twice']);
const MENDS: Record<
  string,
  | 'clean.mendSet'
  | 'clean.mendMark'
  | 'clean.mendRecode'
  | 'clean.mendTidy'
  | 'clean.mendDictionary'
  | 'clean.mendTwice'
> = {
  set: 'clean.mendSet',
  mark_missing: 'clean.mendMark',
  recode: 'clean.mendRecode',
  tidy: 'clean.mendTidy',
  dictionary: 'clean.mendDictionary',
  duplicates: 'clean.mendTwice',
};

/** The first word of its kind; a second names the other variable. */
const kindOfFinding = (finding: Finding) => finding.kind.split(' ', 1).join('');

function findingWords(finding: Finding): string {
  const [kind, other] = finding.kind.split(' ') as [string, string | undefined];
  switch (kind) {
    case 'hundredfold':
      return t('clean.foundHundredfold');
    case 'far_above':
      return t('clean.foundFarAbove');
    case 'far_below':
      return t('clean.foundFarBelow');
    case 'heaped':
      return t('clean.foundHeaped');
    case 'unknown_codes':
      return t('clean.foundUnknownCodes');
    case 'rare_codes':
      return t('clean.foundRareCodes');
    case 'untidy':
      return t('clean.foundUntidy');
    case 'specified':
      return t('clean.foundSpecified');
    case 'nearly_alike':
      return t('clean.foundNearlyAlike');
    case 'after_interview':
      return t('clean.foundAfterInterview');
    case 'long_ago':
      return t('clean.foundLongAgo');
    case 'twice':
      return t('clean.foundTwice');
    case 'more_than':
      return t('clean.foundMoreThan', { other: other ?? '' });
    default:
      return finding.kind;
  }
}

function InOrder({ onSay }: { onSay: (reason: string) => void }) {
  const [reason, setReason] = useState('');
  return (
    <Popconfirm
      icon={null}
      title={t('clean.fineBecause')}
      description={
        <Input
          autoFocus
          value={reason}
          placeholder={t('clean.whyInOrder')}
          onChange={(event) => {
            setReason(event.target.value);
          }}
        />
      }
      okText={t('clean.keep')}
      okButtonProps={{ disabled: reason.trim() === '' }}
      onConfirm={() => {
        onSay(reason.trim());
        setReason('');
      }}
    >
      <Button size="small" type="text">
        {t('clean.fine')}
      </Button>
    </Popconfirm>
  );
}
