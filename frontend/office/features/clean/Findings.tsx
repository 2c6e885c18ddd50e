// What stands out in a variable: in how many rows, which, and what would mend it.
import { Button, Input, Popconfirm, type InputRef } from 'antd';
import { useRef, useState } from 'react';
import { Link } from 'react-router';
import { figure, t } from '../../texts/texts';
import type { Draft, Finding, Profile } from './plan';

export interface Props {
  profile: Profile;
  studyId: number;
  mayWrite: boolean;
  onStep: (draft: Draft) => void;
  onInOrder: (finding: Finding, reason: string) => void;
}

export function Findings({ profile, ...props }: Props) {
  return (
    <ul className="stands-out">
      {profile.findings.map((finding) => (
        <FindingLine key={finding.kind} finding={finding} variable={profile.variable} {...props} />
      ))}
    </ul>
  );
}

interface LineProps extends Omit<Props, 'profile'> {
  finding: Finding;
  variable: string;
}

function FindingLine({ finding, variable, studyId, mayWrite, onStep, onInOrder }: LineProps) {
  const [isOpen, setOpen] = useState(false);
  return (
    <li>
      <b className={GRAVE.has(kindOfFinding(finding)) ? 'bad' : 'doubt'}>{figure(finding.count)}</b>
      <div className="grow">
        {findingWords(finding)}
        {!isOpen && finding.shown.length > 0 && <div className="small muted shown">{finding.shown.join(', ')}</div>}
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
        {finding.rows.length > 0 && (
          <Button
            size="small"
            type="text"
            aria-expanded={isOpen}
            onClick={() => {
              setOpen(!isOpen);
            }}
          >
            {t('clean.look')}
          </Button>
        )}
        {mayWrite && (
          <InOrder
            onSay={(reason) => {
              onInOrder(finding, reason);
            }}
          />
        )}
      </div>
      {isOpen && (
        <FoundRows
          finding={finding}
          studyId={studyId}
          onCorrect={
            mayWrite
              ? (interview, row) => {
                  onStep({ kind: 'correct', variable, interview, row });
                }
              : null
          }
        />
      )}
    </li>
  );
}

interface RowsProps {
  finding: Finding;
  studyId: number;
  /** Begin to correct one of them; null for who may not. */
  onCorrect: ((interview: string, row: string[]) => void) | null;
}

function FoundRows({ finding, studyId, onCorrect }: RowsProps) {
  const interviews = (keys: string[]) => `/studies/${String(studyId)}/interviews?keys=${[...new Set(keys)].join(',')}`;
  const more = finding.count - finding.rows.length;
  return (
    <div className="found-rows">
      <table>
        <tbody>
          {finding.rows.map(({ interview, row, value }, at) => (
            <tr key={at}>
              <td className="mono">
                <Link to={interviews([interview])}>{[interview, ...row].join(' / ')}</Link>
              </td>
              <td>{value}</td>
              <td className="n">
                {onCorrect && (
                  <Button
                    size="small"
                    type="text"
                    onClick={() => {
                      onCorrect(interview, row);
                    }}
                  >
                    {t('clean.correctIt')}
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="small muted">
        {more > 0 && `${t('clean.moreRows', { count: more })} `}
        <Link to={interviews(finding.rows.map(({ interview }) => interview))}>{t('clean.asInterviews')}</Link>
      </p>
    </div>
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
  const input = useRef<InputRef>(null);
  return (
    <Popconfirm
      icon={null}
      afterOpenChange={(isOpen) => {
        // Whoever presses the button goes on typing.
        if (isOpen) input.current?.focus();
      }}
      title={t('clean.fineBecause')}
      description={
        <Input
          ref={input}
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
