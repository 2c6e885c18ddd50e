// One question of a paper as it is keyed: its number, its words, what is typed, what that means.
import { useRef, useState } from 'react';
import type { CodesFound, Json, Screen } from '../../../../shared/engine/types';
import { t } from '../../../texts/texts';
import { areNumbers, isKeyed, isWhole, isWide, meaningOf, readTyped, typedOf, type Slip } from './keyed';

interface Props {
  screen: Screen;
  number: number | undefined;
  timeZone: string;
  findCodes: (typed: string) => Promise<CodesFound>;
  /** Takes the answer, where it is another one, and goes on. */
  onNext: (path: string, value: Json | undefined) => void;
  onBack: (path: string) => void;
  /** What is typed from now on is not for this question any more. */
  onBusy?: () => void;
  /** What was typed is no answer: this question is typed again. */
  onSlip?: () => void;
}

const SLIPS: Record<Slip, string> = {
  noCode: t('keying.slipNoCode'),
  severalCodes: t('keying.slipSeveralCodes'),
  noDate: t('keying.slipNoDate'),
  noTime: t('keying.slipNoTime'),
  noNumber: t('keying.slipNoNumber'),
  noUnit: t('keying.slipNoUnit'),
  noPlace: t('keying.slipNoPlace'),
  yesOrNo: t('keying.slipYesOrNo'),
};

export function KeyRow({ screen, number, timeZone, findCodes, onNext, onBack, onBusy, onSlip }: Props) {
  const kept = typedOf(screen, timeZone);
  const [text, setText] = useState(kept);
  const [slip, setSlip] = useState<Slip | null>(null);
  const box = useRef<HTMLInputElement>(null);
  const wording = screen.wording.map((piece) => piece.text).join('');

  const commit = async (typed: string) => {
    if (typed.trim() === kept) {
      onBusy?.();
      onNext(screen.path, undefined);
      return;
    }
    onBusy?.();
    const read = await readTyped(screen, typed, findCodes, timeZone);
    if ('slip' in read) {
      setSlip(read.slip);
      onSlip?.();
      box.current?.select();
      return;
    }
    setSlip(null);
    onNext(screen.path, read.value);
  };
  const type = (typed: string) => {
    setText(typed);
    setSlip(null);
    if (typed.length > text.length && isWhole(screen, typed)) void commit(typed);
  };

  if (!isKeyed(screen))
    return (
      <div className="key-row">
        <span className="key-number">{number}</span>
        <span>{wording}</span>
        <span className="muted small">{screen.kind === 'statement' ? '' : t('keying.notKeyed')}</span>
      </div>
    );
  const broken = screen.findings.filter((finding) => finding.code !== 'needed');
  return (
    <div className="key-row">
      <span className="key-number">{number}</span>
      <label htmlFor={`key ${screen.path}`}>
        {wording}
        {screen.codes.length > 0 && screen.codes_left === 0 && (
          <span className="key-codes">
            {screen.codes.map((code, i) => (
              <span key={code.code}>
                <b>{areNumbers(screen.codes) ? code.code : i + 1}</b> {code.label}
              </span>
            ))}
          </span>
        )}
        {screen.units.length > 1 && (
          <span className="key-codes">
            {screen.units.map((unit, i) => (
              <span key={unit.unit}>
                <b>{i + 1}</b> {unit.label}
              </span>
            ))}
          </span>
        )}
      </label>
      <span className={isWide(screen) ? 'key-answer wide' : 'key-answer'}>
        <input
          id={`key ${screen.path}`}
          ref={box}
          data-key={screen.path}
          className="mono"
          autoComplete="off"
          spellCheck={false}
          dir="auto"
          aria-invalid={slip !== null}
          value={text}
          onChange={(event) => {
            type(event.target.value);
          }}
          onFocus={(event) => {
            event.target.select();
          }}
          onKeyDown={(event) => {
            if (event.key === 'Enter' || event.key === 'ArrowDown' || (event.key === 'Tab' && !event.shiftKey)) {
              event.preventDefault();
              void commit(event.currentTarget.value);
            } else if (event.key === 'ArrowUp' || (event.key === 'Tab' && event.shiftKey)) {
              event.preventDefault();
              setText(kept);
              setSlip(null);
              onBack(screen.path);
            }
          }}
        />
        {slip !== null ? (
          <span className="bad small" role="alert">
            {SLIPS[slip]}
          </span>
        ) : broken.length > 0 ? (
          <span className="doubt small" role="status">
            {broken.map((finding) => finding.message).join(' ')}
          </span>
        ) : (
          <span className="muted small">{meaningOf(screen)}</span>
        )}
      </span>
    </div>
  );
}
