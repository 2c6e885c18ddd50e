import { useLiveQuery } from 'dexie-react-hooks';
import type { InterviewState } from '../store/db';
import { listInterviews } from '../store/kept';
import { useSync } from '../store/syncContext';
import { useTexts } from '../texts/texts';
import { Frame } from '../ui/Frame';
import { InterviewLine } from '../ui/InterviewLine';
import { SHAPES } from '../ui/states';

const STATES: InterviewState[] = ['in hand', 'packed', 'handed in'];
const STATE_WORDS = { 'in hand': 'in_hand', packed: 'packed', 'handed in': 'handed_in' } as const;
const MOST_SHOWN = 200;

export function Interviews() {
  const { t } = useTexts();
  const sync = useSync();
  const rows = useLiveQuery(listInterviews, []);
  const packed = rows?.filter((r) => r.state === 'packed').length ?? 0;
  return (
    <Frame
      head={<h1>{t('interviews')}</h1>}
      action={
        packed > 0 ? (
          <button type="button" className="wide-button" disabled={sync.busy} onClick={() => void sync.run('by hand')}>
            {sync.busy ? t('sendingNow') : t('sendNow', { count: packed })}
          </button>
        ) : undefined
      }
    >
      {STATES.map((state) => {
        const own = rows?.filter((r) => r.state === state) ?? [];
        return own.length === 0 ? null : (
          <section key={state}>
            <h2>
              <span aria-hidden>{SHAPES[state]}</span> {t(STATE_WORDS[state])} · {own.length}
            </h2>
            {own.slice(0, MOST_SHOWN).map((row) => (
              <InterviewLine key={row.uuid} row={row} />
            ))}
          </section>
        );
      })}
      {rows?.length === 0 && (
        <div className="empty">
          <p>
            <b>{t('noInterviews')}</b>
          </p>
          <p>{t('noInterviewsWhy')}</p>
        </div>
      )}
    </Frame>
  );
}
