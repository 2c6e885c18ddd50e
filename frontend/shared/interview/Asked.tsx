import { useState, type ComponentProps } from 'react';
import type { Screen } from '../engine/types';
import { Question } from './Question';

type AskedProps = ComponentProps<typeof Question> & {
  onRemoveRow: () => void;
  /** What was remarked at this question, and keeping it; none where nobody reads remarks. */
  remark?: { words: string; onKeep: (words: string) => void };
};

/** One question, with what may stand in place of an answer. */
export function Asked({ onRemoveRow, remark, ...asked }: AskedProps) {
  const { screen, t, onAnswer } = asked;
  const special = screen.special_allowed.filter(
    (s): s is 'dont_know' | 'refused' => s === 'dont_know' || s === 'refused',
  );
  return (
    <section className="asked" data-path={screen.path}>
      <Question {...asked} />
      {screen.removable_row !== null && (
        <RemoveRow key={screen.removable_row} words={t('removeRow')} onRemove={onRemoveRow} />
      )}
      {special.length > 0 && (
        <div className="specials">
          {special.map((name) => (
            <button
              key={name}
              type="button"
              aria-pressed={screen.special === name}
              onClick={() => {
                onAnswer(screen.special === name ? null : { special: name });
              }}
            >
              {t(name)}
            </button>
          ))}
        </div>
      )}
      {remark !== undefined && (
        <Remark key={`remark ${screen.path}`} words={remark.words} t={t} onKeep={remark.onKeep} />
      )}
    </section>
  );
}

/** What the office should know about an answer; kept while it is typed. */
function Remark({ words, t, onKeep }: { words: string; t: AskedProps['t']; onKeep: (words: string) => void }) {
  const [open, setOpen] = useState(words !== '');
  const [typed, setTyped] = useState(words);
  if (!open)
    return (
      <button
        type="button"
        className="remark-button"
        onClick={() => {
          setOpen(true);
        }}
      >
        {t('remark')} …
      </button>
    );
  return (
    <label className="remark">
      {t('remark')}
      <textarea
        className="typed"
        rows={2}
        maxLength={2000}
        dir="auto"
        placeholder={t('remarkHint')}
        value={typed}
        autoFocus={words === ''}
        onChange={(event) => {
          setTyped(event.target.value);
          onKeep(event.target.value);
        }}
        onBlur={() => {
          setOpen(typed.trim() !== '');
        }}
      />
    </label>
  );
}

/** Asks a second time, so that a slip of the finger removes nobody. */
function RemoveRow({ words, onRemove }: { words: string; onRemove: () => void }) {
  const [sure, setSure] = useState(false);
  return (
    <button
      type="button"
      className={sure ? 'remove-row sure' : 'remove-row'}
      onBlur={() => {
        setSure(false);
      }}
      onClick={() => {
        if (sure) onRemove();
        else setSure(true);
      }}
    >
      {sure ? `${words}?` : words}
    </button>
  );
}

/** What was answered just before, so that the conversation's thread is not lost. */
export function Before({ line, words }: { line: Screen['before']; words: string }) {
  if (line == null) return null;
  return (
    <p className="before" title={words}>
      <span>{line.wording}</span> <b>{line.answer}</b>
    </p>
  );
}
