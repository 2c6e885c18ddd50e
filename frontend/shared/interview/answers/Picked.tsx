// A unit of a register, and an answer read back to be confirmed.
import { useState } from 'react';
import type { AnswerProps } from './props';
import { Choices } from './Choices';
import { useTyped } from './Typed';

const MOST_SHOWN = 12;

/** Picks a unit; where the phone has no register, its identity is typed. */
export function UnitAnswer({ screen, t, labelledBy, invalid, onAnswer }: AnswerProps) {
  const [wanted, setWanted] = useState('');
  const [typed, setTyped] = useTyped(typeof screen.value === 'string' ? screen.value : '', screen.special);
  if (screen.choices.length === 0) {
    return (
      <>
        <p className="question-instruction">{t('noRegister')}</p>
        <input
          className="typed mono"
          aria-labelledby={labelledBy}
          aria-invalid={invalid}
          autoComplete="off"
          value={typed}
          onChange={(event) => {
            setTyped(event.target.value);
            onAnswer(event.target.value.trim() === '' ? null : event.target.value.trim());
          }}
        />
      </>
    );
  }
  const found = screen.choices.filter((c) => `${c.label} ${c.id}`.toLowerCase().includes(wanted.toLowerCase()));
  const chosen = typeof screen.value === 'string' ? [screen.value] : [];
  return (
    <>
      {screen.choices.length > MOST_SHOWN && (
        <input
          className="typed"
          type="search"
          placeholder={t('search')}
          aria-label={t('search')}
          value={wanted}
          onChange={(event) => {
            setWanted(event.target.value);
          }}
        />
      )}
      <Choices
        labelledBy={labelledBy}
        options={found.slice(0, MOST_SHOWN).map((c) => ({ code: c.id, label: c.label }))}
        chosen={chosen}
        onChoose={onAnswer}
      />
      {found.length > MOST_SHOWN && (
        <p className="question-instruction">{t('more', { count: found.length - MOST_SHOWN })}</p>
      )}
    </>
  );
}

export function ReadBack({ screen, t, labelledBy, onAnswer }: AnswerProps) {
  const source = screen.reads_back;
  if (source === null) return null;
  const chosen = screen.value === true ? ['confirmed'] : screen.value === false ? ['wrong'] : [];
  return (
    <>
      <p className="answer-shown large">{source.shown}</p>
      {source.value !== null && (
        <Choices
          labelledBy={labelledBy}
          options={[
            { code: 'confirmed', label: t('isRight') },
            { code: 'wrong', label: t('isWrong') },
          ]}
          chosen={chosen}
          onChoose={(code) => {
            onAnswer({ [code]: source.value });
          }}
        />
      )}
    </>
  );
}
