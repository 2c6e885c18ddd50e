import { useMemo } from 'react';
import type { Finding } from '../script/model';
import { RuleEditor } from './RuleEditor';
import { completeRule, type Name } from './completion';

interface Props {
  label: string;
  value: string;
  findings: Finding[];
  names: Name[];
  placeholder?: string;
  readOnly?: boolean;
  onChange: (value: string) => void;
}

/** One rule, checked as it is typed, with what is wrong and its mend below. */
export function RuleField({ label, value, findings, names, placeholder, readOnly, onChange }: Props) {
  const complete = useMemo(() => completeRule(names), [names]);
  return (
    <div className="rule-field">
      <RuleEditor {...{ label, value, placeholder, readOnly, complete, onChange }} faults={findings} />
      {findings.map((f) => (
        <p key={`${f.code}${String(f.start)}`} className="rule-note" role="status">
          {f.message} <b>{f.mend}</b>
        </p>
      ))}
    </div>
  );
}
