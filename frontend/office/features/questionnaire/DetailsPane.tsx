import { Alert, Button, Checkbox, Input, InputNumber, Select } from 'antd';
import { useEffect, useRef, type ReactNode } from 'react';
import { directionOf, languageName } from '../../../shared/interview/languages';
import { RuleField } from './RuleField';
import { RuleWords } from './RuleWords';
import { STANDARD_UNITS, type Finding, type Kind, type Part, type Script } from './model';

interface Props {
  questionnaireId: number;
  part: Part;
  script: Script;
  kinds: Kind[];
  findings: Finding[];
  languages: string[];
  readOnly: boolean;
  openField: string | null;
  onChange: (what: string, part: Part) => void;
  onEditList: (name: string) => void;
  onEditUnits: (name: string) => void;
}

/** Everything about one line that the sheet has no room for. */
export function DetailsPane({
  questionnaireId,
  part,
  script,
  kinds,
  findings,
  languages,
  readOnly,
  openField,
  onChange,
  onEditList,
  onEditUnits,
}: Props) {
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

  const rule = (
    field: 'asked_when' | 'repeated' | 'derived' | 'code_filter' | 'default' | 'answer_needed',
    label: string,
    placeholder: string,
  ) => (
    <Field label={label} name={field}>
      <RuleField
        key={`${part.id}.${field}`}
        label={label}
        value={part[field]}
        findings={at(field)}
        names={names}
        placeholder={placeholder}
        readOnly={readOnly}
        onChange={(value) => {
          set(field, value);
        }}
      />
      {field !== 'repeated' && (
        <RuleWords
          questionnaireId={questionnaireId}
          partId={part.id}
          text={part[field]}
          filtered={field === 'code_filter'}
          faulty={at(field).length > 0}
          onTidy={
            readOnly
              ? undefined
              : (canonical) => {
                  set(field, canonical);
                }
          }
        />
      )}
    </Field>
  );
  const limits = LIMITS[kind?.type ?? ''];
  const others = own.filter(
    (f) => !OWN_FIELDS.has(f.field.split('.')[0] ?? '') || (f.field.startsWith('wording') && f.severity === 'error'),
  );
  return (
    <div className="pane-body" ref={pane}>
      {others.map((f) => (
        <Alert
          key={f.code + f.field}
          type={f.severity === 'error' ? 'error' : 'warning'}
          title={
            <>
              {f.message} <b>{f.mend}</b>
            </>
          }
          style={{ marginBottom: 8 }}
        />
      ))}
      <Field label="Kind" name="kind">
        <Select
          aria-label="Kind"
          value={part.kind}
          disabled={readOnly}
          options={kinds.map((k) => ({ value: k.name, label: `${k.glyph}  ${k.name}` }))}
          onChange={(value) => {
            set('kind', value);
          }}
          style={{ width: '100%' }}
        />
      </Field>
      {(kind?.uses_codes === true || part.kind === 'grid') && (
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
                options={script.code_lists.map((l) => ({
                  value: l.name,
                  label: `${l.name} · ${String(l.codes.length)}`,
                }))}
                onChange={(value: string) => {
                  set('code_list', value);
                }}
              />
              <Button
                onClick={() => {
                  onEditList(part.code_list);
                }}
              >
                {part.code_list === '' ? 'New list' : 'Codes …'}
              </Button>
            </div>
          </Field>
          {kind?.uses_codes === true && rule('code_filter', 'Only codes where', 'ward.island is island')}
        </>
      )}
      {part.kind === 'roster' && rule('repeated', 'Repeated', 'workers times')}
      {kind?.derives === true &&
        rule(
          'derived',
          part.kind === 'carried value' ? 'Carried from' : 'Derived',
          part.kind === 'carried value' ? 'earlier.workers' : 'sum(staff.hours) / 40',
        )}
      {(part.kind === 'quantity' || part.kind === 'instrument') && (
        <Field label="Unit" name="unit">
          <div className="row">
            <Select
              className="grow"
              aria-label="Unit"
              showSearch
              placeholder="A unit list, or one unit"
              disabled={readOnly}
              value={part.unit === '' ? null : part.unit}
              options={[
                ...script.unit_lists.map((l) => ({
                  value: l.name,
                  label: `${l.name} · ${l.units.map((u) => u.unit).join(', ')}`,
                })),
                ...STANDARD_UNITS.map((u) => ({ value: u, label: u })),
              ]}
              onChange={(value: string) => {
                set('unit', value);
              }}
            />
            <Button
              onClick={() => {
                onEditUnits(script.unit_lists.some((l) => l.name === part.unit) ? part.unit : '');
              }}
            >
              {script.unit_lists.some((l) => l.name === part.unit) ? 'Units …' : 'New list'}
            </Button>
          </div>
        </Field>
      )}
      {part.kind === 'read-back' && (
        <Field label="Reads back" name="reads_back">
          <Select
            aria-label="Reads back"
            showSearch
            style={{ width: '100%' }}
            disabled={readOnly}
            placeholder="An earlier question"
            value={part.reads_back === '' ? null : part.reads_back}
            options={names
              .slice(
                0,
                Math.max(
                  0,
                  names.findIndex((n) => n.name === part.variable),
                ),
              )
              .map((n) => ({ value: n.name, label: n.name }))}
            onChange={(value: string) => {
              set('reads_back', value);
            }}
          />
        </Field>
      )}
      {part.kind === 'unit' && (
        <Field label="Register" name="register_name">
          <Input
            aria-label="Register"
            className="mono"
            disabled={readOnly}
            value={part.register_name}
            placeholder="workshops"
            onChange={(event) => {
              set('register_name', event.target.value.trim());
            }}
          />
        </Field>
      )}
      {rule('asked_when', 'Asked when', 'always')}
      {kind?.takes_answer === true && rule('answer_needed', 'Answer needed', 'no')}
      <Checks
        part={part}
        field="must_hold"
        label="Must hold"
        {...{ questionnaireId, languages, names, own, readOnly, onChange }}
      />
      <Checks
        part={part}
        field="should_hold"
        label="Should hold"
        {...{ questionnaireId, languages, names, own, readOnly, onChange }}
      />
      {kind?.takes_answer === true && (
        <>
          <Field label="Special answers" name="special_answers">
            <Checkbox.Group
              disabled={readOnly}
              value={part.special_answers}
              options={[
                { value: 'dont_know', label: 'Don’t know' },
                { value: 'refused', label: 'Refused' },
              ]}
              onChange={(values) => {
                set('special_answers', values);
              }}
            />
          </Field>
          {limits !== undefined && (
            <Field label={limits} name="least">
              <div className="row">
                <InputNumber
                  aria-label={`Least: ${limits}`}
                  placeholder="least"
                  disabled={readOnly}
                  value={part.least ?? null}
                  onChange={(value) => {
                    set('least', value);
                  }}
                />
                <InputNumber
                  aria-label={`Most: ${limits}`}
                  placeholder="most"
                  disabled={readOnly}
                  value={part.most ?? null}
                  onChange={(value) => {
                    set('most', value);
                  }}
                />
              </div>
            </Field>
          )}
          {kind.type === 'text' && (
            <Field label="Mask" name="mask">
              <Input
                className="mono"
                aria-label="Mask"
                disabled={readOnly}
                value={part.mask}
                placeholder="A letter, 9 digit, * either"
                onChange={(event) => {
                  set('mask', event.target.value);
                }}
              />
            </Field>
          )}
          {rule('default', 'Default', 'none')}
          {kind.uses_codes && (
            <Field label="Order of the codes" name="order">
              <Checkbox
                disabled={readOnly}
                checked={part.order === 'random'}
                onChange={(event) => {
                  set('order', event.target.checked ? 'random' : '');
                }}
              >
                Random, another one in each interview
              </Checkbox>
            </Field>
          )}
          <Field label="Reading" name="read_aloud">
            <Checkbox
              disabled={readOnly}
              checked={!part.read_aloud}
              onChange={(event) => {
                set('read_aloud', !event.target.checked);
              }}
            >
              For the interviewer: not read aloud
            </Checkbox>
          </Field>
          <Field label="Personal" name="sensitive">
            <Checkbox
              disabled={readOnly}
              checked={part.sensitive}
              onChange={(event) => {
                set('sensitive', event.target.checked);
              }}
            >
              Sensitive: masked for whoever lacks the right
            </Checkbox>
          </Field>
        </>
      )}
      {kind?.holds_parts === true && (
        <Field label="Order of what is inside" name="order">
          <Checkbox
            disabled={readOnly}
            checked={part.order === 'random'}
            onChange={(event) => {
              set('order', event.target.checked ? 'random' : '');
            }}
          >
            Random, another one in each interview
          </Checkbox>
        </Field>
      )}
      {languages.map((tag) => (
        <Field key={tag} label={`Instruction, ${languageName(tag)}`} name={`instruction.${tag}`}>
          <Input.TextArea
            autoSize
            aria-label={`Instruction, ${languageName(tag)}`}
            disabled={readOnly}
            dir={directionOf(tag)}
            value={part.instruction[tag] ?? ''}
            onChange={(event) => {
              onChange(`instruction.${tag}`, {
                ...part,
                instruction: { ...part.instruction, [tag]: event.target.value },
              });
            }}
          />
        </Field>
      ))}
      <Field label="Remark, for the author only" name="remark">
        <Input.TextArea
          autoSize
          aria-label="Remark"
          disabled={readOnly}
          value={part.remark}
          onChange={(event) => {
            set('remark', event.target.value);
          }}
        />
      </Field>
    </div>
  );
}

const LIMITS: Record<string, string> = {
  number: 'Limits of the number',
  quantity: 'Limits, in base units',
  text: 'Number of characters',
  codes: 'Number of codes',
};
// Findings about these stand beside their own field.
const OWN_FIELDS = new Set([
  'asked_when',
  'repeated',
  'derived',
  'code_filter',
  'default',
  'answer_needed',
  'must_hold',
  'should_hold',
  'instruction',
  'wording',
]);

const Field = ({ label, name, children }: { label: string; name: string; children: ReactNode }) => (
  <div className="detail" data-field={name}>
    <span className="detail-label">{label}</span>
    {children}
  </div>
);

interface ChecksProps {
  questionnaireId: number;
  part: Part;
  field: 'must_hold' | 'should_hold';
  label: string;
  languages: string[];
  names: { name: string; detail: string }[];
  own: Finding[];
  readOnly: boolean;
  onChange: (what: string, part: Part) => void;
}

function Checks({ questionnaireId, part, field, label, languages, names, own, readOnly, onChange }: ChecksProps) {
  const checks = part[field];
  const put = (what: string, next: Part['must_hold']) => {
    onChange(`${field}.${what}`, { ...part, [field]: next });
  };
  return (
    <div className="detail">
      <span className="detail-label">{label}</span>
      {checks.map((check, i) => {
        const replace = (what: string, changed: Partial<typeof check>) => {
          put(
            what,
            checks.map((c, j) => (j === i ? { ...c, ...changed } : c)),
          );
        };
        return (
          <div key={i} className="check-box" data-field={`${field}.${String(i)}.rule`}>
            <RuleField
              key={`${part.id}.${field}.${String(i)}`}
              label={label}
              value={check.rule}
              names={names}
              findings={own.filter((f) => f.field === `${field}.${String(i)}.rule`)}
              placeholder={`${part.variable || 'answer'} between 0 and 7`}
              readOnly={readOnly}
              onChange={(rule) => {
                replace(`${String(i)}.rule`, { rule });
              }}
            />
            <RuleWords
              questionnaireId={questionnaireId}
              partId={part.id}
              text={check.rule}
              faulty={own.some((f) => f.field === `${field}.${String(i)}.rule`)}
              onTidy={
                readOnly
                  ? undefined
                  : (rule) => {
                      replace(`${String(i)}.rule`, { rule });
                    }
              }
            />
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
                onChange={(event) => {
                  replace(`${String(i)}.${tag}`, { message: { ...check.message, [tag]: event.target.value } });
                }}
              />
            ))}
            {own
              .filter((f) => f.field.startsWith(`${field}.${String(i)}.message`))
              .map((f) => (
                <p key={f.code} className="rule-note">
                  {f.message} <b>{f.mend}</b>
                </p>
              ))}
            {!readOnly && (
              <Button
                size="small"
                type="text"
                onClick={() => {
                  put(
                    'remove',
                    checks.filter((_, j) => j !== i),
                  );
                }}
              >
                Remove this check
              </Button>
            )}
          </div>
        );
      })}
      {!readOnly && (
        <Button
          size="small"
          onClick={() => {
            put('add', [...checks, { rule: '', message: {} }]);
          }}
        >
          {field === 'must_hold' ? 'Add a hard check' : 'Add a soft check'}
        </Button>
      )}
    </div>
  );
}
