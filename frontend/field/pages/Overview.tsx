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
  remarks: Remark[];
  onGo: (path: string) => void;
  /** Leaves the interview at the office; undefined where that makes no sense. */
  onLeave?: () => Promise<void>;
  onClose: () => void;
}

const headingOf = (line: OverviewLine, row: (r: number, n: number) => string): string =>
  line.around.map((a) => (a.kind === 'roster' ? row(a.row ?? 0, a.rows ?? 0) : a.title)).join(' · ');

/** Every question with its answer, to jump to any of them. */
export function Overview({ uuid, language, remarks, onGo, onLeave, onClose }: Props) {
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
  const headings = lines.map((line) => headingOf(line, (row, rows) => t('person', { row, rows })));
  return (
    <div className="fill" dir={directionOf(language)} lang={language}>
      <header className="fill-head">
        <button type="button" aria-label={t('back')} onClick={onClose}>
          ‹
        </button>
        <span className="fill-place">{t('overview')}</span>
      </header>
      <main className="frame-body">
        {failed && (
          <p className="note must" role="alert">
            {own('notListed')}
          </p>
        )}
        {lines.map((line, i) => {
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
