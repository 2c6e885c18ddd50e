// All visits of this person: what is due, what was agreed, what waits, what has ended.
import { useState } from 'react';
import { useFrame, usePlanned, type Planned } from '../store/day';
import { useTexts } from '../texts/texts';
import { Frame } from '../ui/Frame';
import { VisitLine } from '../ui/VisitLine';

const SHOWN_AT_ONCE = 100;

export function Visits() {
  const { t } = useTexts();
  const frame = useFrame();
  const planned = usePlanned(frame);
  const [words, setWords] = useState('');
  const [shown, setShown] = useState(SHOWN_AT_ONCE);
  const wanted = words.trim().toLocaleLowerCase();
  const found = (planned ?? []).filter((visit) =>
    `${visit.label} ${visit.key} ${visit.area}`.toLocaleLowerCase().includes(wanted),
  );
  const parts: [string, Planned[]][] = [
    [t('visitsDue'), found.filter((visit) => visit.line.is_due)],
    [t('visitsWait'), found.filter((visit) => !visit.line.is_due && visit.line.standing === 'open')],
    [t('visitsPassedOn'), found.filter((visit) => visit.line.standing === 'to pass on')],
    [t('visitsEnded'), found.filter((visit) => ['ended', 'tried enough'].includes(visit.line.standing))],
  ];
  return (
    <Frame head={<h1>{t('visits')}</h1>}>
      <div className="find">
        <input
          className="typed"
          type="search"
          aria-label={t('findVisit')}
          placeholder={t('findVisit')}
          value={words}
          onChange={(event) => {
            setWords(event.target.value);
            setShown(SHOWN_AT_ONCE);
          }}
        />
      </div>
      {frame !== undefined &&
        parts.map(([title, visits]) =>
          visits.length === 0 ? null : (
            <section key={title}>
              <h2>
                {title} · {visits.length}
              </h2>
              {visits.slice(0, shown).map((visit) => (
                <VisitLine key={visit.visit} visit={visit} frame={frame} />
              ))}
              {visits.length > shown && (
                <button
                  type="button"
                  className="plain-button"
                  onClick={() => {
                    setShown(shown + SHOWN_AT_ONCE);
                  }}
                >
                  {t('showMore', { count: visits.length - shown })}
                </button>
              )}
            </section>
          ),
        )}
      {planned !== null && found.length === 0 && (
        <div className="empty">
          <p>
            <b>{planned.length === 0 ? t('noVisits') : t('noSuchVisit')}</b>
          </p>
        </div>
      )}
    </Frame>
  );
}
