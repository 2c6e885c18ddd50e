import { useSync } from '../store/syncContext';
import { useTexts } from '../texts/texts';
import { Unpaired } from '../ui/Unpaired';

/** A phone that is paired and has not heard yet what the office has set for it. */
export function Waiting() {
  const { t } = useTexts();
  const sync = useSync();
  return (
    <Unpaired title={t('waitingTitle')}>
      <p role="status">{sync.problem === '' ? t('waitingWhy') : sync.problem}</p>
      <button type="button" className="wide-button" disabled={sync.busy} onClick={() => void sync.run()}>
        {sync.busy ? t('asking') : t('tryAgain')}
      </button>
    </Unpaired>
  );
}
