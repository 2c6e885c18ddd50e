// Single and multiple answers: one tap each, keys 1 to 9 on a keyboard.
import { useEffect, useId, useRef } from 'react';
import type { AnswerProps } from './props';

interface ChoicesProps {
  labelledBy: string;
  options: { code: string; label: string }[];
  chosen: string[];
  many?: boolean;
  onChoose: (code: string) => void;
}

export function Choices({ labelledBy, options, chosen, many = false, onChoose }: ChoicesProps) {
  useDigitKeys(options, onChoose);
  const name = useId();
  return (
    <div role={many ? 'group' : 'radiogroup'} aria-labelledby={labelledBy} className="choices">
      {options.map((option) => {
        const on = chosen.includes(option.code);
        return (
          <label key={option.code} className={on ? 'choice on' : 'choice'}>
            <input
              type={many ? 'checkbox' : 'radio'}
              name={name}
              value={option.code}
              checked={on}
              onChange={() => {
                onChoose(option.code);
              }}
            />
            <span className={many ? 'mark box' : 'mark dot'} aria-hidden />
            <span>{option.label}</span>
          </label>
        );
      })}
      {options.length === 0 && <p className="question-instruction">…</p>}
    </div>
  );
}

/** Keys 1 to 9 choose a code, unless somebody is typing. */
function useDigitKeys(options: { code: string }[], onChoose: (code: string) => void) {
  const latest = useRef({ options, onChoose });
  useEffect(() => {
    latest.current = { options, onChoose };
  });
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLInputElement && !['radio', 'checkbox'].includes(event.target.type);
      const elsewhere =
        event.target instanceof HTMLTextAreaElement ||
        (event.target instanceof HTMLElement && event.target.isContentEditable);
      if (typing || elsewhere || event.ctrlKey || event.metaKey || event.altKey) return;
      const option = latest.current.options[Number(event.key) - 1];
      if (/^[1-9]$/.test(event.key) && option) latest.current.onChoose(option.code);
    };
    window.addEventListener('keydown', press);
    return () => {
      window.removeEventListener('keydown', press);
    };
  }, []);
}

export function ManyChoices({ screen, labelledBy, onAnswer }: AnswerProps) {
  const chosen = Array.isArray(screen.value) ? screen.value.filter((v): v is string => typeof v === 'string') : [];
  const exclusive = new Set(screen.codes.filter((c) => c.exclusive).map((c) => c.code));
  const choose = (code: string) => {
    if (chosen.includes(code)) {
      const left = chosen.filter((c) => c !== code);
      onAnswer(left.length > 0 ? left : null);
    } else if (exclusive.has(code)) {
      onAnswer([code]);
    } else {
      onAnswer([...chosen.filter((c) => !exclusive.has(c)), code]);
    }
  };
  return <Choices labelledBy={labelledBy} options={screen.codes} chosen={chosen} many onChoose={choose} />;
}
