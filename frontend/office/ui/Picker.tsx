// A field that finds and a list that answers: the combobox pattern of the ARIA Authoring Practices (list autocomplete,
// manual selection). The focus stays in the field; arrow keys move through the list, Enter takes, Escape closes.
import { Input, Modal } from 'antd';
import { useEffect, useId, useRef, useState, type ReactNode } from 'react';
import { t } from '../texts/texts';

interface Props<T> {
  label: string;
  placeholder: string;
  width?: number;
  top: number;
  /** What the field begins with. */
  typed?: string;
  /** The key of what stands now: there the list begins. */
  present?: string;
  /** What is offered for what was typed. */
  search: (text: string) => T[];
  keyOf: (entry: T) => string;
  children: (entry: T) => ReactNode;
  onPick: (entry: T) => void;
  onClose: () => void;
}

export function Picker<T>({
  label,
  placeholder,
  width,
  top,
  typed = '',
  present = '',
  search,
  keyOf,
  children,
  onPick,
  onClose,
}: Props<T>) {
  const id = useId();
  const [text, setText] = useState(typed);
  const [chosen, setChosen] = useState(() =>
    Math.max(
      0,
      search(typed).findIndex((e) => keyOf(e) === present),
    ),
  );
  const list = useRef<HTMLUListElement>(null);
  const found = search(text);
  const at = Math.min(chosen, found.length - 1);
  useEffect(() => {
    list.current?.querySelector('[aria-selected=true]')?.scrollIntoView({ block: 'nearest' });
  }, [at]);
  const option = (i: number) => `${id}-${String(i)}`;
  return (
    <Modal open closable={false} footer={null} width={width} style={{ top }} title={null} onCancel={onClose}>
      <Input
        autoFocus
        role="combobox"
        aria-label={label}
        aria-autocomplete="list"
        aria-expanded={found.length > 0}
        aria-controls={id}
        aria-activedescendant={found.length > 0 ? option(at) : undefined}
        placeholder={placeholder}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setChosen(0);
        }}
        onKeyDown={(event) => {
          const entry = found[at];
          if (event.key === 'ArrowDown') setChosen(Math.min(at + 1, found.length - 1));
          else if (event.key === 'ArrowUp') setChosen(Math.max(at - 1, 0));
          else if (event.key === 'Enter') {
            if (entry !== undefined) onPick(entry);
          } else return;
          event.preventDefault();
        }}
      />
      <ul ref={list} id={id} className="found" role="listbox" aria-label={label}>
        {found.map((entry, i) => (
          // Keys go to the field above: by this pattern its options take no focus.
          // eslint-disable-next-line jsx-a11y/click-events-have-key-events
          <li
            key={keyOf(entry)}
            id={option(i)}
            role="option"
            aria-selected={i === at}
            onMouseEnter={() => {
              setChosen(i);
            }}
            onClick={() => {
              onPick(entry);
            }}
          >
            {children(entry)}
          </li>
        ))}
      </ul>
      {found.length === 0 && (
        <p className="muted" role="status">
          {t('frame.nothingCalled')}
        </p>
      )}
    </Modal>
  );
}
