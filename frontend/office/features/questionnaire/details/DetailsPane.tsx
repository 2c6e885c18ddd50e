import { Alert, Button, Checkbox, Input, InputNumber, Select } from 'antd';
import { useEffect, useRef } from 'react';
import { directionOf, languageName } from '../../../../shared/interview/languages';
import { MediaField } from '../media/MediaField';
import { CheckFields } from './CheckFields';
import { Field, Tick } from './Field';
import { RegisterField } from './RegisterField';
import { RuleField } from './RuleField';
import { RuleWords } from './RuleWords';
import { STANDARD_UNITS, type Finding, type Kind, type Part, type Script } from '../script/model';
import { t } from '../../../texts/texts';

interface Props {
  questionnaireId: number;
  studyId: number;
  part: Part;
  script: Script;
  kinds: Kind[];
  findings: Finding[];
  languages: string[];
  readOnly: boolean;
  /** The server knows the script as it is here. */
  saved: boolean;
  openField: string | null;
  onChange: (what: string, part: Part) => void;
  onEditList: (name: string) => void;
  onEditUnits: (name: string) => void;
}

/** Everything about one line that the sheet has no room for. */
export function DetailsPane({
  questionnaireId,
  studyId,
  part,
  script,
  kinds,
  findings,
  languages,
  readOnly,
  saved,
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
    field: 'asked_when' | 'repeated' | 'derived' | 'code_filter' | 'default' | 'answer_needed' | 'fills',
    label: string,
    placeholder: string,
  ) => (
    <Field label={label} name={field}>
      <RuleField
        key={`${part.id}.${field}`}
        label={label}
        value={part[field]}
        findings={at(field)}
        script={script}
        part={part}
        questionnaireId={questionnaireId}
        picks={field === 'asked_when' || field === 'answer_needed'}
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
          saved={saved}
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
  const ownUnits = script.unit_lists.some((l) => l.name === part.unit);
  const limits = LIMITS[kind?.type ?? ''];
  const others = own.filter(
    (f) =>
      f.severity !== 'hint' &&
      (!OWN_FIELDS.has(f.field.split('.')[0] ?? '') || (f.field.startsWith('wording') && f.severity === 'error')),
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
      <Field label={t('questionnaire.kind')} name="kind">
        <Select
          aria-label={t('questionnaire.kind')}
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
          <ListChooser
            label={t('questionnaire.codeList2')}
            name="code_list"
            placeholder={t('questionnaire.chooseMakeOne')}
            readOnly={readOnly}
            value={part.code_list}
            options={script.code_lists.map((l) => ({ value: l.name, label: `${l.name} · ${String(l.codes.length)}` }))}
            edit={part.code_list === '' ? t('questionnaire.newList') : t('questionnaire.codes')}
            onChoose={(value) => {
              set('code_list', value);
            }}
            onEdit={() => {
              onEditList(part.code_list);
            }}
          />
          {kind?.uses_codes === true && rule('code_filter', t('questionnaire.onlyCodesWhere'), 'ward.island is island')}
        </>
      )}
      {part.kind === 'roster' && rule('repeated', t('questionnaire.repeated'), t('questionnaire.workersTimes'))}
      {kind?.derives === true &&
        rule(
          'derived',
          part.kind === 'carried value' ? t('questionnaire.carried') : t('questionnaire.derived'),
          part.kind === 'carried value' ? 'earlier.workers' : 'sum(staff.hours) / 40',
        )}
      {(part.kind === 'quantity' || part.kind === 'instrument') && (
        <ListChooser
          label={t('questionnaire.unit')}
          name="unit"
          placeholder={t('questionnaire.unitListOneUnit')}
          readOnly={readOnly}
          value={part.unit}
          options={[
            ...script.unit_lists.map((l) => ({
              value: l.name,
              label: `${l.name} · ${l.units.map((u) => u.unit).join(', ')}`,
            })),
            ...STANDARD_UNITS.map((u) => ({ value: u, label: u })),
          ]}
          edit={ownUnits ? t('questionnaire.units') : t('questionnaire.newList')}
          onChoose={(value) => {
            set('unit', value);
          }}
          onEdit={() => {
            onEditUnits(ownUnits ? part.unit : '');
          }}
        />
      )}
      {part.kind === 'read-back' && (
        <Field label={t('questionnaire.readsBack')} name="reads_back">
          <Select
            aria-label={t('questionnaire.readsBack')}
            showSearch
            style={{ width: '100%' }}
            disabled={readOnly}
            placeholder={t('questionnaire.earlierQuestion')}
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
      {(part.kind === 'unit' || (part.kind === 'roster' && part.repeated.startsWith('for each unit'))) && (
        <Field label={t('questionnaire.register')} name="register_name">
          <RegisterField
            studyId={studyId}
            readOnly={readOnly}
            value={part.register_name}
            onChange={(name) => {
              set('register_name', name);
            }}
          />
        </Field>
      )}
      {rule('asked_when', t('questionnaire.askedWhen'), t('questionnaire.always'))}
      {kind?.takes_answer === true && rule('answer_needed', t('questionnaire.answerNeeded2'), t('common.no'))}
      <CheckFields
        part={part}
        field="must_hold"
        label={t('questionnaire.mustHold')}
        {...{ questionnaireId, languages, script, own, readOnly, saved, onChange }}
      />
      <CheckFields
        part={part}
        field="should_hold"
        label={t('questionnaire.shouldHold')}
        {...{ questionnaireId, languages, script, own, readOnly, saved, onChange }}
      />
      <Field label={t('media.beside')} name="media">
        <MediaField
          studyId={studyId}
          label={t('media.beside')}
          names={part.media}
          readOnly={readOnly}
          onChange={(names) => {
            set('media', names);
          }}
        />
      </Field>
      {kind?.takes_answer === true && (
        <>
          <Field label={t('questionnaire.specialAnswers')} name="special_answers">
            <Checkbox.Group
              disabled={readOnly}
              value={part.special_answers}
              options={[
                { value: 'dont_know', label: t('common.dontKnowHead') },
                { value: 'refused', label: t('common.refusedHead') },
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
                  aria-label={t('questionnaire.least', { limits })}
                  placeholder={t('questionnaire.least2')}
                  disabled={readOnly}
                  value={part.least ?? null}
                  onChange={(value) => {
                    set('least', value);
                  }}
                />
                <InputNumber
                  aria-label={t('questionnaire.most', { limits })}
                  placeholder={t('questionnaire.most2')}
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
            <Field label={t('questionnaire.mask')} name="mask">
              <Input
                className="mono"
                aria-label={t('questionnaire.mask')}
                disabled={readOnly}
                value={part.mask}
                placeholder={t('questionnaire.letter9DigitEither')}
                onChange={(event) => {
                  set('mask', event.target.value);
                }}
              />
            </Field>
          )}
          {rule('default', t('questionnaire.default'), t('questionnaire.none'))}
          {rule('fills', t('questionnaire.fills'), t('questionnaire.fillsNothing'))}
          {kind.uses_codes && (
            <Tick
              label={t('questionnaire.orderCodes')}
              name="order"
              readOnly={readOnly}
              checked={part.order === 'random'}
              words={t('questionnaire.randomAnotherOneEach')}
              onTick={(on) => {
                set('order', on ? 'random' : '');
              }}
            />
          )}
          <Tick
            label={t('questionnaire.reading')}
            name="read_aloud"
            readOnly={readOnly}
            checked={!part.read_aloud}
            words={t('questionnaire.interviewerNotReadAloud')}
            onTick={(on) => {
              set('read_aloud', !on);
            }}
          />
          <Tick
            label={t('questionnaire.personal')}
            name="sensitive"
            readOnly={readOnly}
            checked={part.sensitive}
            words={t('questionnaire.sensitiveMaskedWhoeverLacks')}
            onTick={(on) => {
              set('sensitive', on);
            }}
          />
        </>
      )}
      {kind?.holds_parts === true && (
        <Tick
          label={t('questionnaire.orderWhatInside')}
          name="order"
          readOnly={readOnly}
          checked={part.order === 'random'}
          words={t('questionnaire.randomAnotherOneEach')}
          onTick={(on) => {
            set('order', on ? 'random' : '');
          }}
        />
      )}
      {languages.map((tag) => (
        <Field key={tag} label={t('questionnaire.instruction', { tag: languageName(tag) })} name={`instruction.${tag}`}>
          <Input.TextArea
            autoSize
            aria-label={t('questionnaire.instruction', { tag: languageName(tag) })}
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
      <Field label={t('questionnaire.remarkAuthorOnly')} name="remark">
        <Input.TextArea
          autoSize
          aria-label={t('questionnaire.remark')}
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
  number: t('questionnaire.limitsNumber'),
  quantity: t('questionnaire.limitsBaseUnits'),
  text: t('questionnaire.numberCharacters'),
  codes: t('questionnaire.numberCodes'),
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

interface ListProps {
  label: string;
  name: string;
  placeholder: string;
  readOnly: boolean;
  value: string;
  options: { value: string; label: string }[];
  edit: string;
  onChoose: (name: string) => void;
  onEdit: () => void;
}

/** Which list a line takes its codes or units from, and the way into that list. */
const ListChooser = ({ label, name, placeholder, readOnly, value, options, edit, onChoose, onEdit }: ListProps) => (
  <Field label={label} name={name}>
    <div className="row">
      <Select
        className="grow"
        aria-label={label}
        showSearch
        placeholder={placeholder}
        disabled={readOnly}
        value={value === '' ? null : value}
        options={options}
        onChange={onChoose}
      />
      <Button onClick={onEdit}>{edit}</Button>
    </div>
  </Field>
);
