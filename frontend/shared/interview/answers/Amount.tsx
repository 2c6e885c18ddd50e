// Quantities with their unit, and what an instrument shows.
import type { AnswerProps } from './props';
import { field } from './props';
import { useTyped } from './Typed';

const shown = (value: unknown): string => (typeof value === 'string' || typeof value === 'number' ? String(value) : '');

/** An amount and one of the units; a single unit is chosen already. */
export function Quantity({ screen, t, labelledBy, invalid, onAnswer }: AnswerProps) {
  const [amount, setAmount] = useTyped(shown(field(screen.value, 'amount')), screen.special);
  const only = screen.units.length === 1 ? (screen.units[0]?.unit ?? '') : '';
  const [unit, setUnit] = useTyped(shown(field(screen.value, 'unit')) || only, screen.special);
  const give = (a: string, u: string) => {
    setAmount(a);
    setUnit(u);
    onAnswer(a.trim() === '' ? null : { amount: a.trim(), unit: u });
  };
  return (
    <>
      <input
        className="typed"
        inputMode="decimal"
        autoComplete="off"
        aria-labelledby={labelledBy}
        aria-invalid={invalid}
        placeholder={t('amount')}
        value={amount}
        onChange={(event) => {
          give(event.target.value, unit || only);
        }}
      />
      <div className="units" role="radiogroup" aria-label={t('unit')}>
        {screen.units.map((u) => (
          <button
            key={u.unit}
            type="button"
            role="radio"
            aria-checked={(unit || only) === u.unit}
            onClick={() => {
              give(amount, u.unit);
            }}
          >
            {u.label}
          </button>
        ))}
      </div>
    </>
  );
}

/** A reading: the amount, which instrument, and the moment it was read. */
export function Instrument({ screen, t, labelledBy, invalid, onAnswer }: AnswerProps) {
  const [amount, setAmount] = useTyped(shown(field(screen.value, 'amount')), screen.special);
  const [name, setName] = useTyped(shown(field(screen.value, 'instrument')), screen.special);
  const give = (a: string, n: string) => {
    setAmount(a);
    setName(n);
    onAnswer(a.trim() === '' ? null : { amount: a.trim(), instrument: n.trim(), time: new Date().toISOString() });
  };
  const unit = screen.units[0]?.label ?? '';
  return (
    <>
      <div className="with-unit">
        <input
          className="typed"
          inputMode="decimal"
          autoComplete="off"
          aria-labelledby={labelledBy}
          aria-invalid={invalid}
          value={amount}
          onChange={(event) => {
            give(event.target.value, name);
          }}
        />
        {unit !== '' && <span>{unit}</span>}
      </div>
      <input
        className="typed small"
        autoComplete="off"
        placeholder={t('instrument')}
        aria-label={t('instrument')}
        value={name}
        onChange={(event) => {
          give(amount, event.target.value);
        }}
      />
    </>
  );
}
