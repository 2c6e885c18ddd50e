// Which PINs are refused: those that are tried first.
import type { FieldText } from '../texts/texts';

const LEAST = 6;
const MOST_REPEATED = 2;

/** Why a PIN is refused; null where it is taken. */
export function pinFault(pin: string): FieldText | null {
  if (pin.length < LEAST) return 'pinTooShort';
  const digits = Array.from(pin);
  const steps = new Set(digits.slice(1).map((letter, at) => letter.charCodeAt(0) - (digits[at] ?? '').charCodeAt(0)));
  // 777777, 123456, 121212.
  const isEven = steps.size === 1 || new Set(digits).size <= MOST_REPEATED;
  return isEven ? 'pinTooEasy' : null;
}
