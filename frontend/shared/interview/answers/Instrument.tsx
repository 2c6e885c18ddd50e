// What an instrument shows: read from it while it settles, or typed.
import { useContext, useEffect, useRef, useState } from 'react';
import { InstrumentContext, type Connected, type Shown } from '../instruments';
import { shown } from './Amount';
import { field, type AnswerProps } from './props';
import { useTyped } from './Typed';

/** A reading: the amount, which instrument, and the moment it was read. */
export function Instrument({ screen, t, labelledBy, invalid, onAnswer }: AnswerProps) {
  const [amount, setAmount] = useTyped(shown(field(screen.value, 'amount')), screen.special);
  const [name, setName] = useTyped(shown(field(screen.value, 'instrument')), screen.special);
  const give = (a: string, n: string) => {
    setAmount(a);
    setName(n);
    onAnswer(a.trim() === '' ? null : { amount: a.trim(), instrument: n.trim(), time: new Date().toISOString() });
  };
  const unit = screen.units[0];
  return (
    <div className="answer-block">
      <Reader t={t} unit={unit?.unit ?? ''} label={unit?.label ?? ''} take={give} />
      <div className="with-unit">
        <input
          className="typed"
          inputMode="decimal"
          autoComplete="off"
          aria-labelledby={labelledBy}
          aria-invalid={invalid}
          value={amount}
          onChange={(event) => {
            give(event.target.value, name);
          }}
        />
        {unit !== undefined && <span>{unit.label}</span>}
      </div>
      <input
        className="typed small"
        autoComplete="off"
        placeholder={t('instrument')}
        aria-label={t('instrument')}
        value={name}
        onChange={(event) => {
          give(amount, event.target.value);
        }}
      />
    </div>
  );
}

interface ReaderProps {
  t: AnswerProps['t'];
  /** The unit that is asked for, by its code and in words; "" where none is said. */
  unit: string;
  label: string;
  take: (amount: string, instrument: string) => void;
}

function Reader({ t, unit, label, take }: ReaderProps) {
  const { driver, isMadeUp } = useContext(InstrumentContext);
  const [state, setState] = useState<'off' | 'connecting' | 'on' | 'lost'>('off');
  const [value, setValue] = useState<Shown | null>(null);
  const connected = useRef<Connected | null>(null);
  const stopped = useRef<() => void>(() => undefined);
  useEffect(
    () => () => {
      stopped.current();
    },
    [],
  );
  if (driver === null) return null;
  const end = (how: 'off' | 'lost') => {
    stopped.current();
    stopped.current = () => undefined;
    setValue(null);
    setState(how);
  };
  const begin = async () => {
    setState('connecting');
    try {
      connected.current = await driver.connect(unit);
      stopped.current = connected.current.watch(setValue, () => {
        end('lost');
      });
      setState('on');
    } catch (error) {
      console.warn(error);
      end('lost');
    }
  };
  const reading = value === null ? '' : `${value.amount} ${value.unit === unit ? label : value.unit}`.trim();
  const fits = value !== null && (value.unit === '' || unit === '' || value.unit === unit || value.unit === label);
  if (state === 'on')
    return (
      <>
        <p className="answer-shown large" role="status">
          {reading === '' ? t('waiting') : reading}
        </p>
        {value !== null && !fits && (
          <p className="note should" role="alert">
            {t('otherUnit', { reading, unit: label })}
          </p>
        )}
        {value !== null && fits && (
          <button
            type="button"
            className="answer-button"
            onClick={() => {
              take(value.amount, connected.current?.name ?? '');
              end('off');
            }}
          >
            {t('takeReading', { reading })}
          </button>
        )}
        <button
          type="button"
          className="answer-button quiet"
          onClick={() => {
            end('off');
          }}
        >
          {t('stop')}
        </button>
      </>
    );
  return (
    <>
      <button type="button" className="answer-button" disabled={state === 'connecting'} onClick={() => void begin()}>
        {state === 'connecting' ? t('waiting') : t(isMadeUp ? 'simulatedInstrument' : 'readInstrument')}
      </button>
      {state === 'lost' && (
        <p className="note should" role="status">
          {t('instrumentLost')}
        </p>
      )}
    </>
  );
}
