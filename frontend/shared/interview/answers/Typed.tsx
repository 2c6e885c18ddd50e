// Texts, numbers, dates and times: what is typed.
import { useState } from 'react';
import { DateAnswer } from './DateAnswer';
import { fitMask } from '../mask';
import type { AnswerProps } from './props';

const LONG_TEXT = 100;

const INPUTS: Record<string, { type: string; mode: 'text' | 'numeric' | 'decimal' }> = {
  'whole number': { type: 'text', mode: 'numeric' },
  decimal: { type: 'text', mode: 'decimal' },
  date: { type: 'date', mode: 'text' },
  time: { type: 'time', mode: 'text' },
};

/** What is typed follows the answer where that changes from elsewhere, as by a special answer. */
export function useTyped(given: string, special: string | null) {
  const [text, setText] = useState(given);
  const [known, setKnown] = useState(special);
  if (special !== known) {
    setKnown(special);
    if (special !== null) setText('');
  }
  return [text, setText] as const;
}

export function Typed({ screen, t, language, labelledBy, invalid, onAnswer }: AnswerProps) {
  const { type, mode } = INPUTS[screen.kind] ?? { type: 'text', mode: 'text' };
  const [text, setText] = useTyped(
    typeof screen.value === 'string' || typeof screen.value === 'number' ? String(screen.value) : '',
    screen.special,
  );
  const shared = {
    value: text,
    placeholder: screen.example,
    'aria-labelledby': labelledBy,
    'aria-invalid': invalid,
    autoComplete: 'off',
    autoCapitalize: 'off',
    spellCheck: false,
    onChange: (event: { target: { value: string } }) => {
      const fitted = fitMask(screen.mask, event.target.value, text);
      setText(fitted);
      onAnswer(fitted.trim() === '' ? null : fitted.trim());
    },
  };
  if (screen.kind === 'date')
    return (
      <DateAnswer
        screen={screen}
        t={t}
        language={language}
        text={text}
        onText={setText}
        shared={shared}
        onAnswer={onAnswer}
      />
    );
  if (screen.kind === 'text' && (screen.most ?? 0) > LONG_TEXT)
    return <textarea className="typed long" rows={5} dir="auto" {...shared} />;
  return (
    <input
      className={screen.mask !== '' ? 'typed mono' : 'typed'}
      type={type}
      inputMode={mode}
      dir={screen.kind === 'text' ? 'auto' : undefined}
      {...shared}
    />
  );
}

/** A date with its time of day; the offset is that of the phone. */
export function DateTime({ screen, labelledBy, invalid, onAnswer }: AnswerProps) {
  const given = typeof screen.value === 'string' ? screen.value.slice(0, 16) : '';
  const [text, setText] = useTyped(given, screen.special);
  return (
    <input
      className="typed"
      type="datetime-local"
      aria-labelledby={labelledBy}
      aria-invalid={invalid}
      value={text}
      onChange={(event) => {
        setText(event.target.value);
        onAnswer(event.target.value === '' ? null : event.target.value + offsetAt(event.target.value));
      }}
    />
  );
}

/** The offset from UTC that holds here at a local moment, as +02:00. */
function offsetAt(local: string): string {
  const minutes = -new Date(local).getTimezoneOffset();
  const two = (n: number) => String(Math.floor(Math.abs(n))).padStart(2, '0');
  return `${minutes < 0 ? '-' : '+'}${two(minutes / 60)}:${two(minutes % 60)}`;
}
