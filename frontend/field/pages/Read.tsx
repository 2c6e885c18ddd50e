// An interview that was handed in and stays here whole: to be read, and not to be changed.
import { useEffect, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { theEngine } from '../../shared/engine/client';
import type { OverviewLine } from '../../shared/engine/types';
import { headingOf } from '../../shared/interview/headings';
import { directionOf } from '../../shared/interview/languages';
import { textsIn } from '../../shared/interview/texts';
import { db, type Interview } from '../store/db';
import { openInterview } from '../store/interviews';
import { readInterview } from '../store/kept';
import { useTexts } from '../texts/texts';

interface Opened {
  row: Interview;
  lines: OverviewLine[];
}

/** Every answer of it; null where it does not stay here, or its release is gone. */
async function open(uuid: string): Promise<Opened | null> {
  const row = await readInterview(uuid);
  const release = row === undefined ? undefined : await db.releases.get(row.release);
  if (row?.state !== 'handed in' || release === undefined || Object.keys(row.answers).length === 0) return null;
  await openInterview(row, release);
  const lines = await theEngine().call('overview', uuid);
  await theEngine().call('close', uuid);
  return { row, lines };
}

export function Read() {
  const { uuid = '' } = useParams();
  const navigate = useNavigate();
  const { t: own, language: phone } = useTexts();
  const [opened, setOpened] = useState<Opened | null | undefined>(undefined);
  useEffect(() => {
    let live = true;
    open(uuid).then(
      (found) => {
        if (live) setOpened(found);
      },
      (error: unknown) => {
        console.error(error);
        if (live) setOpened(null);
      },
    );
    return () => {
      live = false;
    };
  }, [uuid]);
  const language = opened?.row.language ?? phone;
  const t = textsIn(language);
  const lines = (opened?.lines ?? []).filter((line) => line.kind !== 'statement');
  const headings = lines.map((line) => headingOf(line.around, t));
  return (
    <div className="fill" dir={directionOf(language)} lang={language}>
      <header className="fill-head">
        <button type="button" aria-label={t('back')} onClick={() => void navigate('/interviews')}>
          ‹
        </button>
        <span className="fill-place">
          {opened?.row.label} {opened?.row.number !== undefined && String(opened.row.number).padStart(4, '0')}
        </span>
      </header>
      <main className="frame-body">
        {opened === undefined && (
          <p className="note-plain quiet" role="status">
            {t('gettingReady')}
          </p>
        )}
        {opened === null && <p className="note-plain">{own('notKeptWhole')}</p>}
        {opened?.row.practice === 1 && <p className="practice">{own('practice')}</p>}
        {lines.map((line, i) => (
          <div key={line.path}>
            {headings[i] !== headings[i - 1] && <h2>{headings[i]}</h2>}
            <div className="line">
              <span className="line-text">
                <b className="wording">{line.wording}</b>
                <span>{line.answer === '' ? t('notAnswered') : line.answer}</span>
                {opened?.row.remarks?.[line.path] !== undefined && (
                  <span className="line-problem">{opened.row.remarks[line.path]}</span>
                )}
              </span>
            </div>
          </div>
        ))}
      </main>
    </div>
  );
}
