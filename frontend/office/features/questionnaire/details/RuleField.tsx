import { useMemo, useState } from 'react';
import { t } from '../../../texts/texts';
import type { Finding, Part, Script } from '../script/model';
import { PickRule } from './PickRule';
import { RuleEditor } from './RuleEditor';
import { TryOut } from './TryOut';
import { completeRule } from './completion';
import { useVocabulary } from './useVocabulary';

interface Props {
  label: string;
  value: string;
  findings: Finding[];
  script: Script;
  /** The line that the rule stands in; without one it stands nowhere in particular, and cannot be tried out. */
  part?: Part;
  questionnaireId?: number;
  /** The rule says whether something is so: then it can be picked together as well. */
  picks?: boolean;
  placeholder?: string;
  readOnly?: boolean;
  onChange: (value: string) => void;
}

/** One rule, checked as it is typed, with what is wrong and its mend below, and a way to try it out. */
export function RuleField({
  label,
  value,
  findings,
  script,
  part,
  questionnaireId,
  picks = false,
  placeholder,
  readOnly,
  onChange,
}: Props) {
  const vocabulary = useVocabulary(script, part);
  const complete = useMemo(() => completeRule(vocabulary), [vocabulary]);
  const [trying, setTrying] = useState(false);
  const [picking, setPicking] = useState(false);
  const canTry =
    part !== undefined && questionnaireId !== undefined && !PLAIN.has(value.trim()) && findings.length === 0;
  return (
    <div className="rule-field">
      <RuleEditor {...{ label, value, placeholder, readOnly, complete, onChange }} faults={findings} />
      {findings.map((f) => (
        <p key={`${f.code}${String(f.start)}`} className="rule-note" role="status">
          {f.message} <b>{f.mend}</b>
        </p>
      ))}
      <div className="rule-ways">
        {picks && readOnly !== true && (
          <button
            type="button"
            className="plain-link"
            onClick={() => {
              setPicking(true);
            }}
          >
            {t('questionnaire.pickOpen')}
          </button>
        )}
        {canTry && !trying && (
          <button
            type="button"
            className="plain-link try-open"
            onClick={() => {
              setTrying(true);
            }}
          >
            {t('questionnaire.tryOut')}
          </button>
        )}
      </div>
      {picking && (
        <PickRule
          label={label}
          text={value}
          script={script}
          onTake={(rule) => {
            onChange(rule);
            setPicking(false);
          }}
          onClose={() => {
            setPicking(false);
          }}
        />
      )}
      {canTry && trying && (
        <TryOut
          questionnaireId={questionnaireId}
          part={part}
          text={value}
          script={script}
          onClose={() => {
            setTrying(false);
          }}
        />
      )}
    </div>
  );
}

/** Where a rule could stand there may be a plain word, of which there is nothing to try. */
const PLAIN = new Set(['', 'yes', 'no']);
