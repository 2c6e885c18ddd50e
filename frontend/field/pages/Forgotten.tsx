import { useEffect, useState } from 'react';
import { Problem } from '../../shared/api/client';
import type { DeviceRow } from '../store/db';
import { askToBeLetIn, isUnreachable } from '../store/server';
import { askOffice, enterByOffice } from '../store/vault';
import { problemWords } from '../texts/problems';
import { useTexts } from '../texts/texts';
import { Help } from '../ui/Help';
import { Unpaired } from '../ui/Unpaired';
import { SaveAll } from '../ui/Boundary';

const ASK_AGAIN_MS = 5_000;

/** A forgotten PIN: the office is asked, and lets in whoever it has on the telephone. */
export function Forgotten({ device, onBack }: { device: DeviceRow; onBack: () => void }) {
  const { t } = useTexts();
  const [told, setTold] = useState('');
  const [problem, setProblem] = useState('');
  useEffect(() => {
    const stop = new AbortController();
    const again = () => !stop.signal.aborted;
    const ask = async () => {
      try {
        const { told: letters, ...wanted } = await askOffice();
        if (again()) setTold(letters);
        const answered = await askToBeLetIn(wanted);
        if (!again()) return;
        setProblem('');
        if (answered.state === 'let in') await enterByOffice(answered.answer);
      } catch (error) {
        if (!again()) return;
        if (isUnreachable(error)) setProblem(t('forgotNoNetwork'));
        else setProblem(error instanceof Problem ? problemWords(error, t) : t('forgotNoOffice'));
      }
    };
    void ask();
    const timer = window.setInterval(() => void ask(), ASK_AGAIN_MS);
    return () => {
      stop.abort();
      window.clearInterval(timer);
    };
  }, [t]);
  return (
    <Unpaired title={t('forgotPin')}>
      <p>{t('forgotWhat')}</p>
      {told !== '' && (
        <p className="told mono" aria-label={t('lettersToRead')}>
          {told}
        </p>
      )}
      {problem === '' ? (
        <p className="quiet" role="status">
          {t('waitingForOffice')}
        </p>
      ) : (
        <p className="note should" role="alert">
          {problem}
        </p>
      )}
      <Help settings={device.settings} />
      <SaveAll />
      <button type="button" className="plain-button" onClick={onBack}>
        {t('back')}
      </button>
    </Unpaired>
  );
}
