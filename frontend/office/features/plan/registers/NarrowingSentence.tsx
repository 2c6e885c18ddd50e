// Which units are on show, as a sentence whose words can be changed.
import { Button, Input, Popover, Select } from 'antd';
import { useState } from 'react';
import './registers.css';
import { locale, t } from '../../../texts/texts';
import { Word } from '../../../ui/Sentence';
import { EVERYTHING, narrows, type Condition, type Field, type Narrowing, type UnitKind } from './registers';

interface Props {
  kinds: UnitKind[];
  narrowing: Narrowing;
  meant: number | undefined;
  onChange: (narrowing: Narrowing) => void;
  /** What is chosen now, to be narrowed down to. */
  chosen: { id: number; label: string } | null;
  below: string;
  /** Of one kind, which is chosen elsewhere. */
  ofOneKind?: boolean;
}

const number = new Intl.NumberFormat(locale);
type How = Condition['how'];
const HOWS: { value: How; label: string }[] = [
  { value: 'is', label: t('register.is') },
  { value: 'is not', label: t('register.isNot') },
  { value: 'at least', label: t('register.atLeast') },
  { value: 'at most', label: t('register.atMost') },
  { value: 'holds', label: t('register.holds') },
  { value: 'is empty', label: t('register.isEmpty') },
  { value: 'is filled', label: t('register.isFilled') },
];
const needsValue = (how: How): boolean => how !== 'is empty' && how !== 'is filled';

/** The comparisons that mean something for a field. */
const howsOf = (field: Field | undefined) => {
  const type = field?.type ?? '';
  return HOWS.filter(({ value }) => {
    if (value === 'at least' || value === 'at most') return /number|quantity|date|code$/.test(type);
    if (value === 'holds') return type === 'text';
    if (value === 'is' || value === 'is not') return !/point|path|area|media/.test(type);
    return true;
  });
};

export function NarrowingSentence({ kinds, narrowing, meant, onChange, chosen, below, ofOneKind = false }: Props) {
  const kind = kinds.find((one) => one.id === narrowing.kind);
  const set = (change: Partial<Narrowing>) => {
    onChange({ ...narrowing, ...change });
  };
  return (
    <div className="inline-sentence">
      {!ofOneKind && (
        <Word
          label={t('register.kind')}
          value={String(narrowing.kind)}
          options={[
            { value: '0', label: t('register.allUnits') },
            ...kinds.map((one) => ({ value: String(one.id), label: one.title })),
          ]}
          onChange={(value) => {
            set({ kind: Number(value), conditions: [] });
          }}
        />
      )}
      {(narrowing.below !== 0 || chosen !== null) && (
        <>
          <span>{t('register.in')}</span>
          <Word
            label={t('register.branch')}
            value={String(narrowing.below)}
            options={[
              { value: '0', label: t('register.wholeRegister') },
              ...(narrowing.below === 0 ? [] : [{ value: String(narrowing.below), label: below }]),
              ...(chosen === null || chosen.id === narrowing.below
                ? []
                : [{ value: String(chosen.id), label: chosen.label }]),
            ]}
            onChange={(value) => {
              set({ below: Number(value) });
            }}
          />
        </>
      )}
      {kind !== undefined && kind.fields.length > 0 && (
        <Conditions
          key={kind.id}
          kind={kind}
          conditions={narrowing.conditions}
          onChange={(conditions) => {
            set({ conditions });
          }}
        />
      )}
      <Word
        label={t('register.closedOnes')}
        value={narrowing.faulty ? 'faulty' : narrowing.closed ? 'closed' : 'open'}
        options={[
          { value: 'open', label: t('register.openOnly') },
          { value: 'closed', label: t('register.closedToo') },
          { value: 'faulty', label: t('register.faultyOnly') },
        ]}
        onChange={(value) => {
          set({ closed: value === 'closed', faulty: value === 'faulty' });
        }}
      />
      <span className="muted">· {meant === undefined ? '…' : number.format(meant)}</span>
      {narrows(ofOneKind ? { ...narrowing, kind: 0 } : narrowing) && (
        <button
          type="button"
          className="plain-link"
          onClick={() => {
            onChange(EVERYTHING);
          }}
        >
          {t('register.showAll')}
        </button>
      )}
    </div>
  );
}

interface ConditionsProps {
  kind: UnitKind;
  conditions: Condition[];
  onChange: (conditions: Condition[]) => void;
}

function Conditions({ kind, conditions, onChange }: ConditionsProps) {
  const [open, setOpen] = useState(-1);
  return (
    <>
      {[...conditions, null].map((condition, at) => (
        <Popover
          // Conditions have no identity but their place.
          key={at}
          trigger="click"
          placement="bottomLeft"
          open={open === at}
          onOpenChange={(wanted) => {
            setOpen(wanted ? at : -1);
          }}
          content={
            <ConditionForm
              kind={kind}
              condition={condition}
              onKeep={(kept) => {
                const others = conditions.filter((_, place) => place !== at);
                onChange(kept === null ? others : [...conditions.slice(0, at), kept, ...conditions.slice(at + 1)]);
                setOpen(-1);
              }}
            />
          }
        >
          {condition === null ? (
            <button type="button" className="plain-link">
              {conditions.length === 0 ? t('register.whose') : t('register.andWhose')}
            </button>
          ) : (
            <button type="button" className="sentence-word">
              {conditionWords(kind, condition)}
            </button>
          )}
        </Popover>
      ))}
    </>
  );
}

function conditionWords(kind: UnitKind, condition: Condition): string {
  const field = kind.fields.find((one) => one.part_id === condition.part_id);
  const how = HOWS.find((one) => one.value === condition.how)?.label ?? '';
  const value = field?.codes.find((code) => code.value === condition.value)?.label ?? condition.value;
  const shown = typeof value === 'boolean' ? (value ? t('register.yes') : t('register.no')) : String(value ?? '');
  return `${field?.wording ?? ''} ${how}${needsValue(condition.how) ? ` ${shown}` : ''}`;
}

interface FormProps {
  kind: UnitKind;
  condition: Condition | null;
  onKeep: (condition: Condition | null) => void;
}

function ConditionForm({ kind, condition, onKeep }: FormProps) {
  const [draft, setDraft] = useState<Condition>(
    condition ?? { part_id: kind.fields[0]?.part_id ?? '', how: 'is', value: '' },
  );
  const field = kind.fields.find((one) => one.part_id === draft.part_id);
  const hows = howsOf(field);
  const how = hows.some((one) => one.value === draft.how) ? draft.how : (hows[0]?.value ?? 'is filled');
  const whole = !needsValue(how) || (draft.value != null && draft.value !== '');
  return (
    <form
      className="condition-form"
      onSubmit={(event) => {
        event.preventDefault();
        if (whole) onKeep({ ...draft, how, value: needsValue(how) ? draft.value : null });
      }}
    >
      <Select
        aria-label={t('register.field')}
        value={draft.part_id}
        showSearch={{ optionFilterProp: 'label' }}
        options={kind.fields.filter((one) => !one.hidden).map((one) => ({ value: one.part_id, label: one.wording }))}
        onChange={(part_id) => {
          setDraft({ part_id, how: 'is', value: '' });
        }}
      />
      <Select
        aria-label={t('register.comparison')}
        value={how}
        options={hows}
        onChange={(value) => {
          setDraft({ ...draft, how: value });
        }}
      />
      {needsValue(how) &&
        (field?.type === 'yes/no' ? (
          <Select
            aria-label={t('register.value')}
            value={draft.value === '' ? undefined : String(draft.value)}
            options={[
              { value: 'true', label: t('register.yes') },
              { value: 'false', label: t('register.no') },
            ]}
            onChange={(value) => {
              setDraft({ ...draft, value: value === 'true' });
            }}
          />
        ) : field !== undefined && field.codes.length > 0 ? (
          <Select
            aria-label={t('register.value')}
            value={draft.value === '' ? undefined : String(draft.value)}
            showSearch={{ optionFilterProp: 'label' }}
            options={field.codes}
            onChange={(value) => {
              setDraft({ ...draft, value });
            }}
          />
        ) : (
          <Input
            aria-label={t('register.value')}
            type={field?.type === 'date' ? 'date' : 'text'}
            value={String(draft.value ?? '')}
            onChange={(event) => {
              setDraft({ ...draft, value: event.target.value });
            }}
          />
        ))}
      <div className="row">
        <Button type="primary" htmlType="submit" disabled={!whole}>
          {t('register.narrow')}
        </Button>
        {condition !== null && (
          <Button
            onClick={() => {
              onKeep(null);
            }}
          >
            {t('register.takeAway')}
          </Button>
        )}
      </div>
    </form>
  );
}
