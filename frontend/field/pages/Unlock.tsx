import { useEffect, useState, type SyntheticEvent } from 'react';
import { useLiveQuery } from 'dexie-react-hooks';
import { enter } from '../store/access';
import { db, type DeviceRow } from '../store/db';
import { secondsLeft, WrongPin } from '../store/vault';
import { useTexts } from '../texts/texts';
import { Help } from '../ui/Help';
import { PinField } from '../ui/PinField';
import { Unpaired } from '../ui/Unpaired';
import { Forgotten } from './Forgotten';

/** The locked phone: what is kept on it opens with the PIN. */
export function Unlock({ device }: { device: DeviceRow }) {
  const { t } = useTexts();
  const [pin, setPin] = useState('');
  const [wrong, setWrong] = useState(false);
  const [busy, setBusy] = useState(false);
  const [forgotten, setForgotten] = useState(false);
  const waiting = useLiveQuery(() => db.interviews.where('state').equals('packed').count(), []) ?? 0;
  const seconds = useWait();

  const open = async (event: SyntheticEvent) => {
    event.preventDefault();
    setBusy(true);
    try {
      await enter(pin);
    } catch (error) {
      if (!(error instanceof WrongPin)) throw error;
      setWrong(true);
      setPin('');
    } finally {
      setBusy(false);
    }
  };

  if (forgotten)
    return (
      <Forgotten
        device={device}
        onBack={() => {
          setForgotten(false);
        }}
      />
    );
  return (
    <Unpaired title={t('lockedTitle')}>
      <p className="quiet">
        {device.enumerator} · {device.study}
      </p>
      <form onSubmit={(event) => void open(event)}>
        <PinField label={t('pin')} value={pin} onChange={setPin} autoFocus />
        {seconds > 0 ? (
          <p className="note should" role="status">
            {t('waitPin', { seconds })}
          </p>
        ) : (
          wrong && (
            <p className="note must" role="alert">
              {t('wrongPin')}
            </p>
          )
        )}
        <button type="submit" className="wide-button" disabled={busy || pin === '' || seconds > 0}>
          {busy ? t('unlocking') : t('unlock')}
        </button>
      </form>
      {waiting > 0 && <p className="quiet">{t('waitingWhileLocked', { count: waiting })}</p>}
      <button
        type="button"
        className="plain-button"
        onClick={() => {
          setForgotten(true);
        }}
      >
        {t('forgotPin')}
      </button>
      <Help settings={device.settings} />
    </Unpaired>
  );
}

/** How many seconds no PIN is looked at, told every second. */
function useWait(): number {
  const newest = useLiveQuery(() => db.vault.orderBy('generation').last(), []);
  const [, setNow] = useState(0);
  const left = newest === undefined ? 0 : secondsLeft(newest);
  useEffect(() => {
    if (left === 0) return;
    const timer = window.setTimeout(() => {
      setNow((n) => n + 1);
    }, 500);
    return () => {
      window.clearTimeout(timer);
    };
  });
  return left;
}
