import { useLiveQuery } from 'dexie-react-hooks';
import { useMemo, useState } from 'react';
import type { DeviceRow, InterviewListed, InterviewState } from '../store/db';
import { listInterviews } from '../store/kept';
import { useSync } from '../store/syncContext';
import { useTexts } from '../texts/texts';
import { Frame } from '../ui/Frame';
import { InterviewLine } from '../ui/InterviewLine';
import { isSince, PERIODS, type Period } from '../ui/periods';
import { SHAPES } from '../ui/states';

const STATES: InterviewState[] = ['in hand', 'packed', 'handed in'];
const STATE_WORDS = { 'in hand': 'in_hand', packed: 'packed', 'handed in': 'handed_in' } as const;
const WORDS = { today: 'today', week: 'thisWeek', all: 'allOfThem' } as const;
/** So many lines of each state at first: a phone lays out no more within a blink. */
const FIRST_SHOWN = 40;
/** From so many interviews on one wants to look for one. */
const MANY = 12;

export function Interviews({ device: { round } }: { device: DeviceRow }) {
  const { t, language } = useTexts();
  const sync = useSync();
  const rows = useLiveQuery(listInterviews, []);
  const [period, setPeriod] = useState<Period>('all');
  const [wanted, setWanted] = useState('');
  const packed = rows?.filter((r) => r.state === 'packed').length ?? 0;
  const found = useMemo(() => {
    const words = wanted.trim().toLocaleLowerCase(language);
    return (rows ?? []).filter(
      (row) =>
        isSince(row.changedAt, period, language, round?.begins) &&
        [row.label, row.title, String(row.number ?? '')].some((text) =>
          text.toLocaleLowerCase(language).includes(words),
        ),
    );
  }, [rows, period, wanted, language, round?.begins]);
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
      {(rows?.length ?? 0) > MANY && (
        <div className="find">
          <input
            className="typed"
            type="search"
            placeholder={t('findInterview')}
            aria-label={t('findInterview')}
            value={wanted}
            onChange={(event) => {
              setWanted(event.target.value);
            }}
          />
          <div className="find-states" role="group" aria-label={t('period')}>
            {PERIODS.filter((one) => one !== 'round' || round != null).map((one) => (
              <button
                key={one}
                type="button"
                aria-pressed={period === one}
                onClick={() => {
                  setPeriod(one);
                }}
              >
                {one === 'round' ? round?.name : t(WORDS[one])}
              </button>
            ))}
          </div>
        </div>
      )}
      {STATES.map((state) => (
        <OfState key={state + period + wanted} state={state} rows={found.filter((row) => row.state === state)} />
      ))}
      {rows !== undefined && rows.length > 0 && found.length === 0 && <p className="note-plain">{t('noneFound')}</p>}
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

function OfState({ state, rows }: { state: InterviewState; rows: InterviewListed[] }) {
  const { t } = useTexts();
  const [shown, setShown] = useState(FIRST_SHOWN);
  if (rows.length === 0) return null;
  const left = rows.length - shown;
  return (
    <section>
      <h2>
        <span aria-hidden>{SHAPES[state]}</span> {t(STATE_WORDS[state])} · {rows.length}
      </h2>
      {rows.slice(0, shown).map((row) => (
        <InterviewLine key={row.uuid} row={row} />
      ))}
      {left > 0 && (
        <button
          type="button"
          className="plain-button"
          onClick={() => {
            setShown(shown + 5 * FIRST_SHOWN);
          }}
        >
          {t('showMore', { count: left })}
        </button>
      )}
    </section>
  );
}
