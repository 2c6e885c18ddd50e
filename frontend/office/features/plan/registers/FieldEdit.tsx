// One field of a unit being written at the desk, by its kind; Enter keeps, Escape leaves it as it was.
import { Button, Input, Select } from 'antd';
import { lazy, Suspense, useState } from 'react';
import { textsIn } from '../../../../shared/interview/texts';
import '../../../../shared/interview/question.css';
import { nowhere, PositioningContext } from '../../../../shared/interview/positioning';
import type { Corner } from '../../../../shared/map/DrawOnMap';
import { language, t } from '../../../texts/texts';
import type { Field, FieldLine } from './registers';

const DrawOnMap = lazy(() => import('../../../../shared/map/DrawOnMap'));

interface Props {
  field: Field;
  line: FieldLine;
  near: { latitude: number; longitude: number } | undefined;
  onKeep: (value: unknown) => void;
  onLeave: () => void;
}

const AT_THE_DESK = { positioning: nowhere, metres: 0 };

const isRecord = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null;
const isDrawn = (kind: string): kind is 'point' | 'path' | 'area' => ['point', 'path', 'area'].includes(kind);
/** What only a phone takes. */
export const isTaken = (field: Field): boolean => field.type === 'media' || field.kind === 'instrument';

const SPECIAL: Record<string, string> = { dont_know: t('register.dontKnow'), refused: t('register.refused') };
const specialOf = (value: unknown): string =>
  isRecord(value) && typeof value.special === 'string' ? value.special : '';
const cornersOf = (kind: string, value: unknown): Corner[] => {
  if (!isRecord(value)) return [];
  return kind === 'point'
    ? 'latitude' in value
      ? [value as unknown as Corner]
      : []
    : ((value.points ?? []) as Corner[]);
};

/** What stands in the field while it is written. */
function written(field: Field, value: unknown): string {
  if (specialOf(value) !== '' || value == null) return '';
  if (field.kind === 'quantity' && isRecord(value)) return String(value.amount);
  return typeof value === 'boolean'
    ? String(value)
    : typeof value === 'string' || typeof value === 'number'
      ? String(value)
      : '';
}

export function FieldEdit({ field, line, near, onKeep, onLeave }: Props) {
  const [text, setText] = useState(() => written(field, line.value));
  const [unit, setUnit] = useState(() =>
    isRecord(line.value) && typeof line.value.unit === 'string' ? line.value.unit : (field.units[0]?.value ?? ''),
  );
  const [codes, setCodes] = useState<string[]>(() => (Array.isArray(line.value) ? line.value.map(String) : []));
  if (isDrawn(field.kind))
    return (
      <Suspense>
        {/* Where the desk stands says nothing about where a unit lies. */}
        <PositioningContext value={AT_THE_DESK}>
          <DrawOnMap
            kind={field.kind}
            begins={cornersOf(field.kind, line.value)}
            near={near}
            t={textsIn(language)}
            label={line.wording}
            onDone={(corners) => {
              onKeep(field.kind === 'point' ? corners[0] : { points: corners });
            }}
            onCancel={onLeave}
          />
        </PositioningContext>
      </Suspense>
    );
  const several = field.type === 'codes';
  const value = (): unknown => {
    if (several) return codes.length === 0 ? null : codes;
    const typed = text.trim();
    if (typed === '') return null;
    if (field.kind === 'quantity') return { amount: typed.replace(',', '.'), unit };
    if (field.kind === 'yes/no') return typed === 'true';
    return field.type === 'number' ? typed.replace(',', '.') : typed;
  };
  const chosen = field.codes.length > 0 || field.kind === 'yes/no';
  const options =
    field.kind === 'yes/no'
      ? [
          { value: 'true', label: t('register.yes') },
          { value: 'false', label: t('register.no') },
        ]
      : field.codes;
  return (
    // Escape leaves the field, wherever in it the caret is.
    // eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions
    <form
      className="field-edit"
      onSubmit={(event) => {
        event.preventDefault();
        onKeep(value());
      }}
      onKeyDown={(event) => {
        if (event.key === 'Escape') onLeave();
        event.stopPropagation();
      }}
    >
      {chosen ? (
        <Select
          autoFocus
          defaultOpen
          allowClear
          className="grow"
          aria-label={line.wording}
          mode={several ? 'multiple' : undefined}
          value={several ? codes : text === '' ? undefined : text}
          showSearch={{ optionFilterProp: 'label' }}
          options={options}
          onChange={(picked: string | string[] | undefined) => {
            if (Array.isArray(picked)) setCodes(picked);
            else {
              setText(picked ?? '');
              // One choice is the whole answer.
              onKeep(picked == null ? null : field.kind === 'yes/no' ? picked === 'true' : picked);
            }
          }}
        />
      ) : (
        <Input
          autoFocus
          aria-label={line.wording}
          type={field.kind === 'date' ? 'date' : field.kind === 'time' ? 'time' : 'text'}
          inputMode={field.type === 'number' || field.kind === 'quantity' ? 'decimal' : undefined}
          placeholder={field.mask}
          value={text}
          onChange={(event) => {
            setText(event.target.value);
          }}
        />
      )}
      {field.kind === 'quantity' && (
        <Select aria-label={t('register.unitOfMeasure')} value={unit} options={field.units} onChange={setUnit} />
      )}
      {field.special.map((special) => (
        <Button
          key={special}
          size="small"
          type={specialOf(line.value) === special ? 'primary' : 'default'}
          onClick={() => {
            onKeep({ special });
          }}
        >
          {SPECIAL[special]}
        </Button>
      ))}
      {(!chosen || several) && (
        <Button size="small" type="primary" htmlType="submit">
          {t('register.keep')}
        </Button>
      )}
      <Button size="small" type="text" onClick={onLeave}>
        {t('register.leave')}
      </Button>
    </form>
  );
}
