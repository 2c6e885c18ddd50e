// One question as it is asked: wording, instruction, the means to answer, what is wrong with the answer.
import { useEffect, useId, useRef, useState } from 'react';
import type { Finding, Json, Screen } from '../engine/types';
import './question.css';

export interface QuestionTexts {
  yes: string;
  no: string;
  keepAnyway: string;
  reason: string;
  keep: string;
  kept: string;
}

interface Props {
  screen: Screen;
  texts: QuestionTexts;
  /** Whether to say that a needed answer is missing: only once somebody tried to go on. */
  showNeeded: boolean;
  onAnswer: (value: Json) => void;
  onKeep: (check: number, reason: string) => void;
}

export function Question({ screen, texts, showNeeded, onAnswer, onKeep }: Props) {
  const id = useId();
  const shown = screen.findings.filter((f) => f.code !== 'needed' || showNeeded);
  return (
    <div className="question">
      <h1 id={id} className="question-wording">
        {screen.wording.map((piece, i) => (piece.filled ? <b key={i}>{piece.text}</b> : <span key={i}>{piece.text}</span>))}
      </h1>
      {screen.instruction !== '' && <p className="question-instruction">{screen.instruction}</p>}
      <Answer key={screen.path} screen={screen} texts={texts} labelledBy={id} invalid={shown.length > 0} onAnswer={onAnswer} />
      <div aria-live="polite">
        {shown.map((finding) => (
          <FindingNote key={`${finding.code}${String(finding.check)}`} finding={finding} texts={texts} onKeep={onKeep} />
        ))}
      </div>
    </div>
  );
}

interface AnswerProps {
  screen: Screen;
  texts: QuestionTexts;
  labelledBy: string;
  invalid: boolean;
  onAnswer: (value: Json) => void;
}

function Answer({ screen, texts, labelledBy, invalid, onAnswer }: AnswerProps) {
  switch (screen.kind) {
    case 'statement':
      return null;
    case 'yes/no':
      return (
        <Choices
          labelledBy={labelledBy}
          options={[
            { code: 'yes', label: texts.yes },
            { code: 'no', label: texts.no },
          ]}
          chosen={screen.value === true ? ['yes'] : screen.value === false ? ['no'] : []}
          onChoose={(code) => {
            onAnswer(code === 'yes');
          }}
        />
      );
    case 'single answer':
      return (
        <Choices
          labelledBy={labelledBy}
          options={screen.codes}
          chosen={typeof screen.value === 'string' ? [screen.value] : []}
          onChoose={onAnswer}
        />
      );
    case 'multiple answer':
      return <ManyChoices screen={screen} labelledBy={labelledBy} onAnswer={onAnswer} />;
    default:
      return <Typed screen={screen} labelledBy={labelledBy} invalid={invalid} onAnswer={onAnswer} />;
  }
}

interface ChoicesProps {
  labelledBy: string;
  options: { code: string; label: string }[];
  chosen: string[];
  many?: boolean;
  onChoose: (code: string) => void;
}

function Choices({ labelledBy, options, chosen, many = false, onChoose }: ChoicesProps) {
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
      const elsewhere = event.target instanceof HTMLTextAreaElement || (event.target instanceof HTMLElement && event.target.isContentEditable);
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

function ManyChoices({ screen, labelledBy, onAnswer }: { screen: Screen; labelledBy: string; onAnswer: (value: Json) => void }) {
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

const INPUTS: Record<string, { type: string; mode: 'text' | 'numeric' | 'decimal' }> = {
  'whole number': { type: 'text', mode: 'numeric' },
  decimal: { type: 'text', mode: 'decimal' },
  date: { type: 'date', mode: 'text' },
  time: { type: 'time', mode: 'text' },
};

function Typed({ screen, labelledBy, invalid, onAnswer }: Omit<AnswerProps, 'texts'>) {
  const { type, mode } = INPUTS[screen.kind] ?? { type: 'text', mode: 'text' };
  const given = screen.value === null ? '' : String(screen.value);
  const [text, setText] = useState(given);
  const [known, setKnown] = useState(screen.special);
  if (screen.special !== known) {
    setKnown(screen.special);
    if (screen.special !== null) setText('');
  }
  return (
    <input
      className={screen.mask !== '' ? 'typed mono' : 'typed'}
      type={type}
      inputMode={mode}
      value={text}
      placeholder={screen.mask}
      aria-labelledby={labelledBy}
      aria-invalid={invalid}
      autoComplete="off"
      autoCapitalize="off"
      spellCheck={false}
      dir={screen.kind === 'text' ? 'auto' : undefined}
      onChange={(event) => {
        setText(event.target.value);
        onAnswer(event.target.value.trim() === '' ? null : event.target.value.trim());
      }}
    />
  );
}

function FindingNote({ finding, texts, onKeep }: { finding: Finding; texts: QuestionTexts; onKeep: Props['onKeep'] }) {
  const [reason, setReason] = useState(finding.kept);
  const [open, setOpen] = useState(false);
  if (finding.strength === 'must') return <p className="note must" role="alert">{finding.message}</p>;
  if (finding.kept !== '' && !open) {
    return (
      <p className="note kept">
        {finding.message} <span>{texts.kept}: “{finding.kept}”</span>
        <button type="button" onClick={() => { onKeep(finding.check, ''); }}>×</button>
      </p>
    );
  }
  return (
    <div className="note should" role="alert">
      <p>{finding.message}</p>
      {open ? (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            setOpen(false);
            onKeep(finding.check, reason);
          }}
        >
          <input aria-label={texts.reason} placeholder={texts.reason} value={reason} autoFocus dir="auto" onChange={(event) => { setReason(event.target.value); }} />
          <button type="submit" disabled={reason.trim() === ''}>{texts.keep}</button>
        </form>
      ) : (
        <button type="button" onClick={() => { setOpen(true); }}>{texts.keepAnyway}</button>
      )}
    </div>
  );
}
