import { useState, type SyntheticEvent } from 'react';
import { settlePin } from '../store/access';
import { TROUBLES, troubleOf } from '../store/troubles';
import { pinFault } from '../store/pins';
import { useTexts } from '../texts/texts';
import { PinField } from '../ui/PinField';
import { Unpaired } from '../ui/Unpaired';

/** A PIN is wanted: by the profile, or because the office has let somebody in who forgot theirs. */
export function ChoosePin() {
  const { t } = useTexts();
  return (
    <Unpaired title={t('choosePinTitle')}>
      <p>{t('choosePinWhy')}</p>
      <NewPin words={t('usePin')} />
    </Unpaired>
  );
}

/** A new PIN, typed twice. */
export function NewPin({ words, onDone }: { words: string; onDone?: () => void }) {
  const { t } = useTexts();
  const [pin, setPin] = useState('');
  const [again, setAgain] = useState('');
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  const keep = async (event: SyntheticEvent) => {
    event.preventDefault();
    const fault = pin === again ? pinFault(pin) : 'pinsDiffer';
    if (fault !== null) {
      setProblem(t(fault));
      return;
    }
    setBusy(true);
    try {
      await settlePin(pin);
      onDone?.();
    } catch (error) {
      console.error(error);
      setProblem(t(TROUBLES[troubleOf(error)]));
      setBusy(false);
    }
  };
  return (
    <form onSubmit={(event) => void keep(event)}>
      <PinField label={t('newPin')} value={pin} onChange={setPin} autoFocus />
      <PinField label={t('pinAgain')} value={again} onChange={setAgain} />
      {problem !== '' && (
        <p className="note must" role="alert">
          {problem}
        </p>
      )}
      <button type="submit" className="wide-button" disabled={busy || pin === '' || again === ''}>
        {busy ? t('sealing') : words}
      </button>
    </form>
  );
}
