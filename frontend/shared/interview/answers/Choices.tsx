// What can be chosen: one tap each, keys 1 to 9 on a keyboard.
import { useEffect, useId, useRef, type RefObject } from 'react';
import { CodePicture } from '../media';

interface ChoicesProps {
  labelledBy: string;
  options: { code: string; label: string; media?: string[] }[];
  chosen: string[];
  many?: boolean;
  onChoose: (code: string) => void;
}

export function Choices({ labelledBy, options, chosen, many = false, onChoose }: ChoicesProps) {
  const group = useRef<HTMLDivElement>(null);
  useDigitKeys(group, options, onChoose);
  const name = useId();
  return (
    <div ref={group} role={many ? 'group' : 'radiogroup'} aria-labelledby={labelledBy} className="choices">
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
            {option.media !== undefined && option.media.length > 0 && <CodePicture names={option.media} />}
            <span>{option.label}</span>
          </label>
        );
      })}
      {options.length === 0 && <p className="question-instruction">…</p>}
    </div>
  );
}

/** Keys 1 to 9 choose a code, unless somebody is typing. */
function useDigitKeys(
  group: RefObject<HTMLDivElement | null>,
  options: { code: string }[],
  onChoose: (code: string) => void,
) {
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
      // Of several questions on a page the one that is in focus.
      const isOne = document.querySelectorAll('.choices').length === 1;
      const isMine = event.target instanceof Node && group.current?.contains(event.target) === true;
      if (!isOne && !isMine) return;
      if (typing || elsewhere || event.ctrlKey || event.metaKey || event.altKey) return;
      const option = latest.current.options[Number(event.key) - 1];
      if (/^[1-9]$/.test(event.key) && option) latest.current.onChoose(option.code);
    };
    window.addEventListener('keydown', press);
    return () => {
      window.removeEventListener('keydown', press);
    };
  }, [group]);
}
