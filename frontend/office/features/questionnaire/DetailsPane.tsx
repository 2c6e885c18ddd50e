import { Alert, Button, Checkbox, Input, InputNumber, Select } from 'antd';
import { useEffect, useRef, type ReactNode } from 'react';
import { directionOf, languageName } from '../../../shared/interview/languages';
import { RuleField } from './RuleField';
import type { Finding, Kind, Part, Script } from './model';

interface Props {
  part: Part;
  script: Script;
  kinds: Kind[];
  findings: Finding[];
  languages: string[];
  readOnly: boolean;
  openField: string | null;
  onChange: (what: string, part: Part) => void;
  onEditList: (name: string) => void;
}

/** Everything about one line that the sheet has no room for. */
export function DetailsPane({ part, script, kinds, findings, languages, readOnly, openField, onChange, onEditList }: Props) {
  const pane = useRef<HTMLDivElement>(null);
  const kind = kinds.find((k) => k.name === part.kind);
  const names = script.parts.filter((p) => p.variable !== '').map((p) => ({ name: p.variable, detail: p.kind }));
  const own = findings.filter((f) => f.part_id === part.id);
  const at = (field: string) => own.filter((f) => f.field === field);
  const set = <K extends keyof Part>(field: K, value: Part[K]) => {
    onChange(field, { ...part, [field]: value });
  };
  useEffect(() => {
    if (openField === null) return;
    const field = pane.current?.querySelector<HTMLElement>(`[data-field="${openField}"]`);
    field?.scrollIntoView({ block: 'nearest' });
    field?.querySelector<HTMLElement>('.cm-content, input, textarea')?.focus();
  }, [openField, part.id]);

  const rule = (field: 'asked_when' | 'repeated' | 'derived' | 'code_filter' | 'default' | 'answer_needed', label: string, placeholder: string) => (
    <Field label={label} name={field}>
      <RuleField key={`${part.id}.${field}`} label={label} value={part[field]} findings={at(field)} names={names} placeholder={placeholder} readOnly={readOnly} onChange={(value) => { set(field, value); }} />
    </Field>
  );
  const others = own.filter((f) => ['variable', 'kind', 'level', 'code_list', 'special_answers', 'least', 'id'].includes(f.field) || (f.field.startsWith('wording') && f.severity === 'error'));
  return (
    <div className="pane-body" ref={pane}>
      {others.map((f) => <Alert key={f.code + f.field} type={f.severity === 'error' ? 'error' : 'warning'} title={<>{f.message} <b>{f.mend}</b></>} style={{ marginBottom: 8 }} />)}
      <Field label="Kind" name="kind">
        <Select aria-label="Kind" value={part.kind} disabled={readOnly} options={kinds.map((k) => ({ value: k.name, label: `${k.glyph}  ${k.name}` }))} onChange={(value) => { set('kind', value); }} style={{ width: '100%' }} />
      </Field>
      {kind?.uses_codes === true && (
        <>
          <Field label="Code list" name="code_list">
            <div className="row">
              <Select
                className="grow"
                aria-label="Code list"
                showSearch
                placeholder="Choose or make one"
                disabled={readOnly}
                value={part.code_list === '' ? null : part.code_list}
                options={script.code_lists.map((l) => ({ value: l.name, label: `${l.name} · ${String(l.codes.length)}` }))}
                onChange={(value: string) => { set('code_list', value); }}
              />
              <Button onClick={() => { onEditList(part.code_list); }}>{part.code_list === '' ? 'New list' : 'Codes …'}</Button>
            </div>
          </Field>
          {rule('code_filter', 'Only codes where', 'ward.island is island')}
        </>
      )}
      {part.kind === 'roster' && rule('repeated', 'Repeated', 'workers times')}
      {part.kind === 'derived value' && rule('derived', 'Derived', 'sum(staff.hours) / 40')}
      {rule('asked_when', 'Asked when', 'always')}
      {kind?.takes_answer === true && rule('answer_needed', 'Answer needed', 'no')}
      <Checks part={part} field="must_hold" label="Must hold" {...{ languages, names, own, readOnly, onChange }} />
      <Checks part={part} field="should_hold" label="Should hold" {...{ languages, names, own, readOnly, onChange }} />
      {kind?.takes_answer === true && (
        <>
          <Field label="Special answers" name="special_answers">
            <Checkbox.Group
              disabled={readOnly}
              value={part.special_answers}
              options={[{ value: 'dont_know', label: 'Don’t know' }, { value: 'refused', label: 'Refused' }]}
              onChange={(values) => { set('special_answers', values); }}
            />
          </Field>
          {part.kind === 'multiple answer' && (
            <Field label="Number of codes" name="least">
              <div className="row">
                <InputNumber aria-label="Least number of codes" min={0} placeholder="least" disabled={readOnly} value={part.least ?? null} onChange={(value) => { set('least', value); }} />
                <InputNumber aria-label="Most number of codes" min={1} placeholder="most" disabled={readOnly} value={part.most ?? null} onChange={(value) => { set('most', value); }} />
              </div>
            </Field>
          )}
          {part.kind === 'text' && (
            <Field label="Mask" name="mask"><Input className="mono" aria-label="Mask" disabled={readOnly} value={part.mask} placeholder="A letter, 9 digit, * either" onChange={(event) => { set('mask', event.target.value); }} /></Field>
          )}
          {rule('default', 'Default', 'none')}
          <Field label="Personal" name="sensitive"><Checkbox disabled={readOnly} checked={part.sensitive} onChange={(event) => { set('sensitive', event.target.checked); }}>Sensitive: masked for whoever lacks the right</Checkbox></Field>
        </>
      )}
      {languages.map((tag) => (
        <Field key={tag} label={`Instruction, ${languageName(tag)}`} name={`instruction.${tag}`}>
          <Input.TextArea autoSize aria-label={`Instruction, ${languageName(tag)}`} disabled={readOnly} dir={directionOf(tag)} value={part.instruction[tag] ?? ''} onChange={(event) => { onChange(`instruction.${tag}`, { ...part, instruction: { ...part.instruction, [tag]: event.target.value } }); }} />
        </Field>
      ))}
      <Field label="Remark, for the author only" name="remark"><Input.TextArea autoSize aria-label="Remark" disabled={readOnly} value={part.remark} onChange={(event) => { set('remark', event.target.value); }} /></Field>
    </div>
  );
}

const Field = ({ label, name, children }: { label: string; name: string; children: ReactNode }) => (
  <div className="detail" data-field={name}>
    <span className="detail-label">{label}</span>
    {children}
  </div>
);

interface ChecksProps {
  part: Part;
  field: 'must_hold' | 'should_hold';
  label: string;
  languages: string[];
  names: { name: string; detail: string }[];
  own: Finding[];
  readOnly: boolean;
  onChange: (what: string, part: Part) => void;
}

function Checks({ part, field, label, languages, names, own, readOnly, onChange }: ChecksProps) {
  const checks = part[field];
  const put = (what: string, next: Part['must_hold']) => {
    onChange(`${field}.${what}`, { ...part, [field]: next });
  };
  return (
    <div className="detail">
      <span className="detail-label">{label}</span>
      {checks.map((check, i) => {
        const replace = (what: string, changed: Partial<typeof check>) => {
          put(what, checks.map((c, j) => (j === i ? { ...c, ...changed } : c)));
        };
        return (
          <div key={i} className="check-box" data-field={`${field}.${String(i)}.rule`}>
            <RuleField key={`${part.id}.${field}.${String(i)}`} label={label} value={check.rule} names={names} findings={own.filter((f) => f.field === `${field}.${String(i)}.rule`)} placeholder={`${part.variable || 'answer'} between 0 and 7`} readOnly={readOnly} onChange={(rule) => { replace(`${String(i)}.rule`, { rule }); }} />
            {languages.map((tag) => (
              <Input
                key={tag}
                size="small"
                aria-label={`${label}, message, ${languageName(tag)}`}
                disabled={readOnly}
                dir={directionOf(tag)}
                placeholder={`What to say, ${languageName(tag)}; {variable} shows an answer`}
                value={check.message[tag] ?? ''}
                status={own.some((f) => f.field === `${field}.${String(i)}.message.${tag}`) ? 'error' : ''}
                onChange={(event) => { replace(`${String(i)}.${tag}`, { message: { ...check.message, [tag]: event.target.value } }); }}
              />
            ))}
            {own.filter((f) => f.field.startsWith(`${field}.${String(i)}.message`)).map((f) => <p key={f.code} className="rule-note">{f.message} <b>{f.mend}</b></p>)}
            {!readOnly && <Button size="small" type="text" onClick={() => { put('remove', checks.filter((_, j) => j !== i)); }}>Remove this check</Button>}
          </div>
        );
      })}
      {!readOnly && <Button size="small" onClick={() => { put('add', [...checks, { rule: '', message: {} }]); }}>{field === 'must_hold' ? 'Add a hard check' : 'Add a soft check'}</Button>}
    </div>
  );
}
