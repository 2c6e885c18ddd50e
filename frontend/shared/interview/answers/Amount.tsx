// Quantities with their unit.
import type { AnswerProps } from './props';
import { field } from './props';
import { useTyped } from './Typed';

export const shown = (value: unknown): string =>
  typeof value === 'string' || typeof value === 'number' ? String(value) : '';

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
