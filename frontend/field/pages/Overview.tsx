import { useEffect, useState } from 'react';
import { Problem } from '../../shared/api/client';
import { theEngine } from '../../shared/engine/client';
import type { OverviewLine } from '../../shared/engine/types';
import { directionOf } from '../../shared/interview/languages';
import { textsIn } from '../../shared/interview/texts';
import type { Remark } from '../store/db';
import { problemWords } from '../texts/problems';
import { useTexts } from '../texts/texts';

interface Props {
  uuid: string;
  language: string;
  practice: boolean;
  remarks: Remark[];
  onGo: (path: string) => void;
  /** Leaves the interview at the office; undefined where that makes no sense. */
  onLeave?: () => Promise<void>;
  onClose: () => void;
}

const headingOf = (line: OverviewLine, row: (r: number, n: number) => string): string =>
  line.around.map((a) => (a.kind === 'roster' ? row(a.row ?? 0, a.rows ?? 0) : a.title)).join(' · ');

type Shown = 'all' | 'open' | 'mend';
const STATE_WORDS = { all: 'showAll', open: 'showOpen', mend: 'toMend' } as const;

const isOpen = (line: OverviewLine): boolean => line.kind !== 'statement' && line.state === 'open';
const isToMend = (line: OverviewLine): boolean => line.broken > 0;
const isShown = (line: OverviewLine, shown: Shown): boolean =>
  shown === 'all' || (shown === 'open' ? isOpen(line) : isToMend(line));

/** Letters as they are looked for: small, without accents. */
const plain = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();
const holds = (line: OverviewLine, wanted: string): boolean =>
  plain(`${line.wording} ${line.answer}`).includes(plain(wanted.trim()));

/** Every question with its answer, to look for and to jump to any of them. */
export function Overview({ uuid, language, practice, remarks, onGo, onLeave, onClose }: Props) {
  const [lines, setLines] = useState<OverviewLine[]>([]);
  const [failed, setFailed] = useState(false);
  const t = textsIn(language);
  const { t: own } = useTexts();
  useEffect(() => {
    theEngine()
      .call('overview', uuid)
      .then(setLines, () => {
        setFailed(true);
      });
  }, [uuid]);
  const [wanted, setWanted] = useState('');
  const [shown, setShown] = useState<Shown>('all');
  const counts = { all: lines.length, open: lines.filter(isOpen).length, mend: lines.filter(isToMend).length };
  const found = lines.filter((line) => isShown(line, shown) && holds(line, wanted));
  const next = lines.find(isOpen);
  const headings = found.map((line) => headingOf(line, (row, rows) => t('person', { row, rows })));
  return (
    <div className="fill" dir={directionOf(language)} lang={language}>
      <header className="fill-head">
        <button type="button" aria-label={t('back')} onClick={onClose}>
          ‹
        </button>
        <span className="fill-place">{t('overview')}</span>
      </header>
      <main className="frame-body">
        {practice && <p className="practice">{own('practice')}</p>}
        <div className="find">
          <input
            className="typed"
            type="search"
            aria-label={t('findQuestion')}
            placeholder={t('findQuestion')}
            dir="auto"
            value={wanted}
            onChange={(event) => {
              setWanted(event.target.value);
            }}
          />
          <div className="find-states" role="group" aria-label={t('overview')}>
            {(['all', 'open', 'mend'] as const).map((state) => (
              <button
                key={state}
                type="button"
                aria-pressed={shown === state}
                onClick={() => {
                  setShown(state);
                }}
              >
                {t(STATE_WORDS[state])} {counts[state]}
              </button>
            ))}
          </div>
          {next !== undefined && (
            <button
              type="button"
              className="answer-button"
              onClick={() => {
                onGo(next.path);
              }}
            >
              {t('nextOpen')}
            </button>
          )}
        </div>
        {failed && (
          <p className="note must" role="alert">
            {own('notListed')}
          </p>
        )}
        {found.length === 0 && lines.length > 0 && <p className="note-plain quiet">{t('nothingHere')}</p>}
        {found.map((line, i) => {
          const heading = headings[i] ?? '';
          return (
            <div key={line.path}>
              {heading !== headings[i - 1] && <h2>{heading}</h2>}
              <button
                type="button"
                className="line"
                onClick={() => {
                  onGo(line.path);
                }}
              >
                <span className="line-text">
                  <b className="wording">{line.wording}</b>
                  {line.kind !== 'statement' && <span>{line.answer === '' ? t('notAnswered') : line.answer}</span>}
                  {remarks
                    .filter((remark) => remark.path === line.path)
                    .map((remark) => (
                      <span key={remark.text} className="line-problem">
                        ◁ {remark.text}
                      </span>
                    ))}
                </span>
                {line.broken > 0 && (
                  <span className="line-side bad" aria-label={t('toMend')}>
                    !
                  </span>
                )}
              </button>
            </div>
          );
        })}
        {onLeave && <Leave onLeave={onLeave} />}
      </main>
    </div>
  );
}

/** Leaving an interview at the office needs a network, and is said to be done only once the office has it. */
function Leave({ onLeave }: { onLeave: () => Promise<void> }) {
  const { t } = useTexts();
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState('');
  const leave = async () => {
    setBusy(true);
    try {
      await onLeave();
    } catch (error) {
      setProblem(error instanceof Problem ? problemWords(error, t) : t('sendingFailed'));
      setBusy(false);
    }
  };
  return (
    <div className="leave">
      <p className="quiet">{t('leaveAtOfficeWhy')}</p>
      {problem !== '' && (
        <p className="note must" role="alert">
          {problem}
        </p>
      )}
      <button type="button" className="wide-button secondary" disabled={busy} onClick={() => void leave()}>
        {busy ? t('sendingNow') : t('leaveAtOffice')}
      </button>
    </div>
  );
}
