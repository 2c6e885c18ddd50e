import { useLiveQuery } from 'dexie-react-hooks';
import { useCallback, useEffect, useRef, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { theEngine } from '../../shared/engine/client';
import type { Json, Screen } from '../../shared/engine/types';
import { directionOf, languageName } from '../../shared/interview/languages';
import { Question } from '../../shared/interview/Question';
import { textsIn } from '../../shared/interview/texts';
import { db, type InterviewRow, type ParadataEvent, type ReleaseRow } from '../store/db';
import { keepFile } from '../store/files';
import { keepInterview, momentHere, openInterview } from '../store/interviews';
import { useSync } from '../store/syncContext';
import { timeOf } from '../ui/states';
import { Finish } from './Finish';
import { Overview } from './Overview';
import { useSwipe } from './useSwipe';

type Face = 'question' | 'overview' | 'finish';

/** Filling an interview: one question a screen. */
export function Fill() {
  const { uuid = '' } = useParams();
  const opened = useOpened(uuid);
  if (opened.state === 'missing') return <Gone />;
  if (opened.state === 'opening') return <Opening title={opened.row?.label ?? ''} problem={opened.problem} />;
  return <Filling row={opened.row} release={opened.release} first={opened.first} />;
}

type Opened =
  | { state: 'opening'; row?: InterviewRow; problem: string }
  | { state: 'missing' }
  | { state: 'open'; row: InterviewRow; release: ReleaseRow; first: Screen };

function useOpened(uuid: string): Opened {
  const [opened, setOpened] = useState<Opened>({ state: 'opening', problem: '' });
  useEffect(() => {
    let live = true;
    const open = async () => {
      const row = await db.interviews.get(uuid);
      const release = row ? await db.releases.get(row.release) : undefined;
      if (!row || !release || row.state !== 'in hand') {
        if (live) setOpened({ state: 'missing' });
        return;
      }
      if (live) setOpened({ state: 'opening', row, problem: '' });
      const way = await openInterview(row, release);
      const path = row.path !== null && way.includes(row.path) ? row.path : (way[0] ?? '');
      const first = await theEngine().call('show', uuid, path);
      await keepInterview(uuid, first, { kind: row.events.length === 0 ? 'seen' : 'resumed', path, at: momentHere() });
      if (live) setOpened({ state: 'open', row, release, first });
    };
    open().catch((error: unknown) => {
      if (live) setOpened({ state: 'opening', problem: error instanceof Error ? error.message : String(error) });
    });
    return () => {
      live = false;
    };
  }, [uuid]);
  return opened;
}

function Opening({ title, problem }: { title: string; problem: string }) {
  const navigate = useNavigate();
  return (
    <div className="fill">
      <div className="fill-progress"><div style={{ width: 0 }} /></div>
      <header className="fill-head"><button type="button" aria-label="Back" onClick={() => void navigate('/')}>‹</button><span>{title}</span></header>
      <main className="fill-body">
        {problem === '' ? <p className="quiet" role="status">Getting ready …</p> : (
          <p className="note must" role="alert">The interview could not be opened. Nothing of it is lost. Close Skavo and open it again.</p>
        )}
      </main>
    </div>
  );
}

function Gone() {
  const navigate = useNavigate();
  return (
    <div className="fill">
      <main className="fill-body">
        <h1 className="question-wording">This interview is not in hand any more.</h1>
        <p>It was packed, or it is on another phone.</p>
      </main>
      <footer className="fill-foot"><button type="button" className="next" onClick={() => void navigate('/')}>Today</button></footer>
    </div>
  );
}

function Filling({ row, release, first }: { row: InterviewRow; release: ReleaseRow; first: Screen }) {
  const { uuid } = row;
  const navigate = useNavigate();
  const sync = useSync();
  const [screen, setScreen] = useState(first);
  const [language, setLanguage] = useState(row.language);
  const [face, setFace] = useState<Face>('question');
  const [tried, setTried] = useState(false);
  const changedAt = useLiveQuery(async () => (await db.interviews.get(uuid))?.changedAt, [uuid]);
  const pending = useRef<Promise<void>>(Promise.resolve());
  const at = useRef(first.path);
  const t = textsIn(language);

  /** One step after the other: an answer is in the engine and on the disk before the next thing happens. */
  const step = useCallback(
    (work: () => Promise<Screen | null>, event: (shown: Screen | null) => ParadataEvent | null) => {
      pending.current = pending.current.then(async () => {
        const shown = await work();
        await keepInterview(uuid, shown, event(shown));
        if (!shown) return;
        at.current = shown.path;
        setScreen(shown);
      });
      return pending.current;
    },
    [uuid],
  );

  const answer = (value: Json) => {
    const { path } = screen;
    const give = async () => {
      const shown = await theEngine().call('answer', uuid, path, value);
      // A picture may be ready only after the interview has gone on: it is kept, and the screen stays.
      return at.current === path ? shown : null;
    };
    void step(give, () => ({ kind: 'answered', path, at: momentHere() }));
  };

  const goTo = useCallback(
    async (path: string) => {
      setTried(false);
      await step(() => theEngine().call('show', uuid, path), () => ({ kind: 'seen', path, at: momentHere() }));
      setFace('question');
      window.scrollTo(0, 0);
    },
    [step, uuid],
  );

  const next = useCallback(async () => {
    await pending.current;
    const now = await theEngine().call('show', uuid, screen.path);
    setScreen(now);
    const stops = now.findings.some((f) => f.strength === 'must' || f.kept === '');
    if (stops) setTried(true);
    else if (now.next !== null) await goTo(now.next);
    else setFace('finish');
  }, [goTo, screen.path, uuid]);

  const back = useCallback(async () => {
    if (face !== 'question') setFace('question');
    else if (screen.previous !== null) await goTo(screen.previous);
  }, [face, goTo, screen.previous]);

  /** The row goes, its answers are kept aside, and the interview goes on with what stands in its place. */
  const removeRow = async (row: string) => {
    const before = screen.previous;
    await step(
      async () => {
        const way = await theEngine().call('removeRow', uuid, row);
        const path = before !== null && way.includes(before) ? before : (way[0] ?? '');
        return theEngine().call('show', uuid, path);
      },
      () => ({ kind: 'answered', path: row, at: momentHere() }),
    );
  };

  const leave = async () => {
    await step(() => Promise.resolve(null), () => ({ kind: 'left', path: screen.path, at: momentHere() }));
    void navigate('/');
  };

  const speak = (tag: string) => {
    setLanguage(tag);
    void step(
      async () => {
        await theEngine().call('speak', uuid, tag);
        return theEngine().call('show', uuid, screen.path);
      },
      () => ({ kind: 'language', at: momentHere() }),
    );
  };

  const direction = directionOf(language);
  useNavigationKeys(face === 'question', next, back);
  const swipe = useSwipe(
    () => void (direction === 'rtl' ? back() : next()),
    () => void (direction === 'rtl' ? next() : back()),
  );

  if (face === 'overview') return <Overview uuid={uuid} language={language} onGo={(path) => void goTo(path)} onClose={() => { setFace('question'); }} />;
  if (face === 'finish') return <Finish uuid={uuid} language={language} onGo={(path) => void goTo(path)} onBack={() => { setFace('question'); }} />;

  const place = screen.around.map((a) => (a.kind === 'roster' ? t('person', { row: a.row ?? 0, rows: a.rows ?? 0 }) : a.title));
  const kept = changedAt === undefined ? '' : t('keptAt', { time: timeOf(changedAt) });
  const special = screen.special_allowed.filter((s): s is 'dont_know' | 'refused' => s === 'dont_know' || s === 'refused');
  return (
    <div className="fill" dir={direction} lang={language} {...swipe}>
      <div className="fill-progress" role="progressbar" aria-valuemin={0} aria-valuemax={screen.of} aria-valuenow={screen.place + 1} aria-label={`${String(screen.place + 1)} / ${String(screen.of)}`}>
        <div style={{ width: `${String((100 * (screen.place + 1)) / Math.max(1, screen.of))}%` }} />
      </div>
      <header className="fill-head">
        <button type="button" aria-label={t('overview')} onClick={() => { setFace('overview'); }}>☰</button>
        <span className="fill-place">{place.join(' · ')}</span>
        <span className="fill-kept">{sync.online ? kept : `${kept} · ${t('noNetwork')}`}</span>
      </header>
      <main className="fill-body">
        {row.practice === 1 && <p className="practice">practice</p>}
        <Question
          screen={screen}
          t={t}
          keepFile={(file, name) => keepFile(uuid, file, name)}
          showNeeded={tried}
          onAnswer={answer}
          onKeep={(check, reason) => void step(() => theEngine().call('keep', uuid, screen.path, check, reason), () => null)}
        />
        {screen.removable_row !== null && <RemoveRow key={screen.removable_row} words={t('removeRow')} onRemove={() => void removeRow(screen.removable_row ?? '')} />}
        {special.length > 0 && (
          <div className="specials">
            {special.map((name) => (
              <button key={name} type="button" aria-pressed={screen.special === name} onClick={() => { answer(screen.special === name ? null : { special: name }); }}>
                {t(name)}
              </button>
            ))}
          </div>
        )}
      </main>
      <footer className="fill-foot">
        <button type="button" className="back" aria-label={t('back')} disabled={screen.previous === null} onClick={() => void back()}>‹</button>
        <div className="fill-middle">
          {release.languages.length > 1 && (
            <select aria-label={t('language')} value={language} onChange={(event) => { speak(event.target.value); }}>
              {release.languages.map((tag) => <option key={tag} value={tag}>{languageName(tag)}</option>)}
            </select>
          )}
          <button type="button" className="plain-button" onClick={() => void leave()}>{t('leave')}</button>
        </div>
        <button type="button" className="next" onClick={() => void next()}>{screen.next === null ? t('finish') : t('next')} ›</button>
      </footer>
    </div>
  );
}

/** Asks a second time, so that a slip of the finger removes nobody. */
function RemoveRow({ words, onRemove }: { words: string; onRemove: () => void }) {
  const [sure, setSure] = useState(false);
  return (
    <button type="button" className={sure ? 'remove-row sure' : 'remove-row'} onBlur={() => { setSure(false); }} onClick={() => { if (sure) onRemove(); else setSure(true); }}>
      {sure ? `${words}?` : words}
    </button>
  );
}

/** Enter and the arrow keys lead on and back, except where they edit a text or move between codes. */
function useNavigationKeys(active: boolean, next: () => Promise<void>, back: () => Promise<void>) {
  useEffect(() => {
    if (!active) return;
    const press = (event: KeyboardEvent) => {
      const inText = event.target instanceof HTMLInputElement && !['radio', 'checkbox'].includes(event.target.type);
      const inForm = event.target instanceof Element && event.target.closest('.note, select, button') !== null;
      if (inForm) return;
      if (event.key === 'Enter' || (event.key === 'PageDown' && !inText)) {
        event.preventDefault();
        void next();
      } else if (event.key === 'PageUp' && !inText) {
        event.preventDefault();
        void back();
      }
    };
    window.addEventListener('keydown', press);
    return () => {
      window.removeEventListener('keydown', press);
    };
  }, [active, next, back]);
}
