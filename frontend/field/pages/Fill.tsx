import { useLiveQuery } from 'dexie-react-hooks';
import { Fragment, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { theEngine } from '../../shared/engine/client';
import type { ExerciseDifference, Json, Screen } from '../../shared/engine/types';
import { Asked, Before } from '../../shared/interview/Asked';
import { InstrumentContext, madeUp, ofBrowser } from '../../shared/interview/instruments';
import { directionOf, languageName } from '../../shared/interview/languages';
import { MediaContext } from '../../shared/interview/media';
import { ofDevice, PositioningContext } from '../../shared/interview/positioning';
import { textsIn } from '../../shared/interview/texts';
import { SheetsContext } from '../../shared/map/sheets';
import { db, type Interview, type ReleaseRow } from '../store/db';
import { keepFile, readFile } from '../store/files';
import { leaveAtOffice } from '../store/left';
import { keepRemark, momentHere, tellRemaining } from '../store/interviews';
import { languagesOf, useSettings } from '../store/settings';
import { useSheets } from '../store/sheets';
import { hiddenPaths } from '../store/units';
import { useSync } from '../store/syncContext';
import { useTexts } from '../texts/texts';
import { dayAndTime, timeOf } from '../ui/states';
import { Finish } from './Finish';
import { FoundHere } from './FoundHere';
import { Overview } from './Overview';
import { Practised } from './Practised';
import { useFoundHere } from './useFoundHere';
import { useMedia } from './useMedia';
import { useNavigationKeys } from './useNavigationKeys';
import { showFirstFinding, usePage } from './usePage';
import { useFilling, useOpened } from './useFilling';
import { useSwipe } from './useSwipe';

/** Kinds whose answer is whole after one tap. */
const ONE_TAP = new Set(['single answer', 'yes/no']);

type Face = 'question' | 'overview' | 'finish';

/** Filling an interview: one question a screen. */
export function Fill() {
  const { uuid = '' } = useParams();
  const opened = useOpened(uuid);
  const { t } = useTexts();
  switch (opened.state) {
    case 'missing':
      return <Message title={t('notInHand')} text={t('notInHandWhy')} />;
    case 'elsewhere':
      return <Message title={t('elsewhere')} text={t('elsewhereWhy')} retry={opened.retry} />;
    case 'failed':
      return <Message title={t('notOpened')} text={t('notOpenedWhy')} retry={opened.retry} />;
    case 'opening':
      return <Opening title={opened.row?.label ?? ''} />;
    case 'open':
      return <Filling row={opened.row} release={opened.release} first={opened.first} />;
  }
}

function Opening({ title }: { title: string }) {
  const navigate = useNavigate();
  const { t } = useTexts();
  return (
    <div className="fill">
      <div className="fill-progress">
        <div style={{ width: 0 }} />
      </div>
      <header className="fill-head">
        <button type="button" aria-label={t('back')} onClick={() => void navigate('/')}>
          ‹
        </button>
        <span>{title}</span>
      </header>
      <main className="fill-body">
        <p className="quiet" role="status">
          {t('gettingReady')}
        </p>
      </main>
    </div>
  );
}

function Message({ title, text, retry }: { title: string; text: string; retry?: () => void }) {
  const navigate = useNavigate();
  const { t } = useTexts();
  return (
    <div className="fill">
      <main className="fill-body">
        <h1 className="question-wording">{title}</h1>
        <p role={retry ? 'alert' : undefined}>{text}</p>
      </main>
      <footer className="fill-foot">
        {retry && (
          <button type="button" className="plain-button" onClick={retry}>
            {t('tryAgain')}
          </button>
        )}
        <button type="button" className="next wide" onClick={() => void navigate('/')}>
          {t('today')}
        </button>
      </footer>
    </div>
  );
}

function Filling({ row, release, first }: { row: Interview; release: ReleaseRow; first: Screen }) {
  const { uuid } = row;
  const navigate = useNavigate();
  const sync = useSync();
  const settings = useSettings();
  const positions = useMemo(() => ({ positioning: ofDevice, metres: settings.point_metres }), [settings.point_metres]);
  const isPractice = row.practice === 1;
  // A made-up reading belongs into no real interview.
  const instruments = useMemo(
    () => ({ driver: isPractice ? madeUp : ofBrowser(), isMadeUp: isPractice }),
    [isPractice],
  );
  const sheets = useSheets();
  const languages = languagesOf(release.languages, settings);
  const { screen, trouble, step, answer, answerAt, findCodes, settled } = useFilling(row, release, first);
  const unit = row.about;
  // A unit is looked over, and changed where it is another.
  const isSection = settings.page === 'section' || unit !== undefined;
  const hidden = useHidden(unit);
  const page = usePage(isSection, uuid, screen).filter((one) => !hidden.has(one.path));
  useShownFirst(unit !== undefined && page.length > 1, first.path);
  const onPage = useRef(page);
  useEffect(() => {
    onPage.current = page;
  });
  // A recording may be ready only after the interview has gone on: it is kept, and leads nobody back.
  const give = (path: string, value: Json) =>
    (onPage.current.some((one) => one.path === path) ? answerAt : answer)(path, value);
  useFoundHere(give);
  const [language, setLanguage] = useState(row.language);
  const [face, setFace] = useFace();
  const [tried, setTried] = useState(false);
  const [practised, setPractised] = useState<ExerciseDifference[] | null>(null);
  const [written, setWritten] = useState<Record<string, string>>({ ...row.remarks });
  const changedAt = useLiveQuery(async () => (await db.interviews.get(uuid))?.changedAt, [uuid]);
  const t = textsIn(language);
  const lookUp = useMedia(release, language);
  const { t: own, language: phone } = useTexts();
  const clock = clockProblem(row)
    ? own('clockSetBack', { now: timeOf(new Date()), then: dayAndTime(row.changedAt, phone) })
    : '';

  const goTo = useCallback(
    async (path: string) => {
      setTried(false);
      await step(() => theEngine().call('show', uuid, path), { kind: 'seen', path, at: momentHere() });
      setFace('question');
      window.scrollTo(0, 0);
    },
    [setFace, step, uuid],
  );

  const next = useCallback(async () => {
    const now = await settled();
    const asked = isSection ? await theEngine().call('page', uuid, now.path) : [now];
    const stops = asked.some((one) => one.findings.some((f) => f.strength === 'must' || f.kept === ''));
    const onward = asked.at(-1)?.next ?? null;
    if (stops && unit === undefined) {
      setTried(true);
      showFirstFinding();
    } else if (onward !== null) await goTo(onward);
    else setFace('finish');
  }, [goTo, isSection, setFace, settled, unit, uuid]);

  const previous = page[0]?.previous ?? null;
  const back = useCallback(async () => {
    if (face !== 'question') setFace('question');
    else if (previous !== null) await goTo(previous);
  }, [face, goTo, previous, setFace]);

  /** The row goes, its answers are kept aside, and the interview goes on with what stands in its place. */
  const removeRow = (gone: string) => {
    const before = screen.previous;
    return step(
      async () => {
        const way = await theEngine().call('removeRow', uuid, gone);
        const path = before !== null && way.includes(before) ? before : (way[0] ?? '');
        return theEngine().call('show', uuid, path);
      },
      { kind: 'answered', path: gone, at: momentHere() },
    );
  };

  const leave = async () => {
    await step(() => Promise.resolve(null), { kind: 'left', path: screen.path, at: momentHere() });
    await tellRemaining(uuid, screen.path).catch(() => undefined);
    void navigate(unit === undefined ? '/' : `/units/${unit.identity}`);
  };

  const leaveThere = async () => {
    await step(() => Promise.resolve(null), { kind: 'left', path: screen.path, at: momentHere() });
    await leaveAtOffice(uuid);
    void navigate('/');
  };

  const speak = (tag: string) => {
    setLanguage(tag);
    void step(
      async () => {
        await theEngine().call('speak', uuid, tag);
        return theEngine().call('show', uuid, screen.path);
      },
      { kind: 'language', at: momentHere() },
    );
  };

  const direction = directionOf(language);
  useNavigationKeys(face === 'question', next, back);
  const swipe = useSwipe(
    settings.turning !== 'buttons',
    () => void (direction === 'rtl' ? back() : next()),
    () => void (direction === 'rtl' ? next() : back()),
  );
  const remarks = row.correction?.remarks ?? [];

  if (practised !== null)
    return <Practised differences={practised} exercise={row.exercise ?? ''} language={language} />;
  if (face === 'overview')
    return (
      <Overview
        uuid={uuid}
        language={language}
        onGo={(path) => void goTo(path)}
        practice={isPractice}
        remarks={remarks}
        onLeave={isPractice || row.correction !== undefined || unit !== undefined ? undefined : leaveThere}
        onClose={() => {
          setFace('question');
        }}
      />
    );
  if (face === 'finish')
    return (
      <Finish
        uuid={uuid}
        language={language}
        practice={isPractice}
        unit={unit}
        onPractised={setPractised}
        onGo={(path) => void goTo(path)}
        onBack={() => {
          setFace('question');
        }}
      />
    );

  const place = screen.around.map((a) =>
    a.kind === 'roster' ? t('person', { row: a.row ?? 0, rows: a.rows ?? 0 }) : a.title,
  );
  const kept = changedAt === undefined ? '' : t('keptAt', { time: timeOf(changedAt) });
  return (
    <div className="fill" dir={direction} lang={language} {...swipe}>
      <div
        className="fill-progress"
        role="progressbar"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(100 * screen.progress)}
        aria-label={t('progress')}
      >
        <div style={{ width: `${String(100 * screen.progress)}%` }} />
      </div>
      <header className="fill-head">
        <button
          type="button"
          aria-label={t('overview')}
          onClick={() => {
            setFace('overview');
          }}
        >
          ☰
        </button>
        <span className="fill-place">{place.join(' · ')}</span>
        <span className="fill-kept">{sync.online ? kept : `${kept} · ${t('noNetwork')}`}</span>
      </header>
      <main className="fill-body">
        {isPractice && (
          <p className="practice">
            {own('practice')}
            {row.exercise !== undefined && ` · ${row.exercise}`}
          </p>
        )}
        {trouble !== '' && (
          <p className="note must" role="alert">
            {own(trouble)}
          </p>
        )}
        {clock !== '' && (
          <p className="note should" role="status">
            {clock}
          </p>
        )}
        <Remarks correction={row.correction} path={screen.path} />
        <Before line={page[0]?.before ?? null} words={t('answeredBefore')} />
        <PositioningContext value={positions}>
          <SheetsContext value={sheets}>
            <InstrumentContext value={instruments}>
              <MediaContext value={lookUp}>
                {page.map((one) => (
                  <Fragment key={one.path}>
                    <Asked
                      screen={one}
                      t={t}
                      language={language}
                      showNeeded={tried}
                      findCodes={(typed) => findCodes(typed, one.path)}
                      keepFile={(file, name) => keepFile(uuid, file, name, one.kind)}
                      readFile={(hash) => readFile(uuid, hash)}
                      onAnswer={(value) => {
                        void give(one.path, value).then(() => {
                          if (settings.goes_on && !isSection && value !== null && ONE_TAP.has(one.kind)) void next();
                        });
                      }}
                      onKeep={(check, reason) =>
                        void step(() => theEngine().call('keep', uuid, one.path, check, reason), null)
                      }
                      onRemoveRow={() => void removeRow(one.removable_row ?? '')}
                      remark={{
                        words: written[one.path] ?? '',
                        onKeep: (words) => {
                          setWritten((now) => ({ ...now, [one.path]: words }));
                          void keepRemark(uuid, one.path, words).catch(() => undefined);
                        },
                      }}
                    />
                    {one.kind === 'unit' && !isPractice && <FoundHere row={row} release={release} path={one.path} />}
                  </Fragment>
                ))}
              </MediaContext>
            </InstrumentContext>
          </SheetsContext>
        </PositioningContext>
      </main>
      <footer className="fill-foot">
        <button
          type="button"
          className="back"
          aria-label={t('back')}
          hidden={settings.turning === 'swipe'}
          disabled={previous === null}
          onClick={() => void back()}
        >
          ‹
        </button>
        <div className="fill-middle">
          {languages.length > 1 && (
            <select
              aria-label={t('language')}
              value={language}
              onChange={(event) => {
                speak(event.target.value);
              }}
            >
              {languages.map((tag) => (
                <option key={tag} value={tag}>
                  {languageName(tag)}
                </option>
              ))}
            </select>
          )}
          <button type="button" className="plain-button" onClick={() => void leave()}>
            {t('leave')}
          </button>
        </div>
        <button type="button" className="next" onClick={() => void next()}>
          {(page.at(-1)?.next ?? null) !== null
            ? `${t('next')} ›`
            : unit === undefined
              ? `${t('finish')} ›`
              : own('keepUnit')}
        </button>
      </footer>
    </div>
  );
}

/** What is shown of the interview, kept in the address: the phone's own back button leads from the list to the question. */
function useFace(): [Face, (face: Face) => void] {
  const [params, setParams] = useSearchParams();
  const named = params.get('face');
  const face: Face = named === 'overview' || named === 'finish' ? named : 'question';
  const setFace = useCallback(
    (wanted: Face) => {
      setParams(
        (before) => {
          const now = new URLSearchParams(before);
          if (wanted === 'question') now.delete('face');
          else now.set('face', wanted);
          return now;
        },
        { replace: wanted === 'question' },
      );
    },
    [setParams],
  );
  return [face, setFace];
}

const NONE: ReadonlySet<string> = new Set();

/** The fields of a unit that stay at the office: whoever is asked for them again would write over what is there. */
function useHidden(unit: Interview['about']): ReadonlySet<string> {
  const kind = unit?.kind;
  return useLiveQuery(async () => (kind === undefined ? NONE : hiddenPaths(kind)), [kind]) ?? NONE;
}

/** Brings the field into view that somebody has pressed to change, once all of them stand there. */
function useShownFirst(isThere: boolean, path: string): void {
  useEffect(() => {
    const asked = [...document.querySelectorAll<HTMLElement>('.asked')].find((one) => one.dataset.path === path);
    if (isThere && asked?.previousElementSibling != null) asked.scrollIntoView({ block: 'start' });
  }, [isThere, path]);
}

/** What the office wrote: about the whole while it is begun, and at the question concerned. */
function Remarks({ correction, path }: { correction: Interview['correction']; path: string }) {
  const { t } = useTexts();
  const shown = correction?.remarks.filter((remark) => remark.path === path || remark.path === '') ?? [];
  if (correction === undefined || shown.length === 0) return null;
  return (
    <aside className="remarks" aria-label={t('fromOffice')}>
      {shown.map((remark) => (
        <p key={remark.path + remark.text} dir="auto">
          <b>◁ {correction.by}</b> {remark.text}
        </p>
      ))}
    </aside>
  );
}

const CLOCK_SLACK_MS = 120_000;

/** Whether the clock was set back: later answers would look earlier than those before. */
const clockProblem = (row: Interview): boolean => new Date(row.changedAt).getTime() - Date.now() > CLOCK_SLACK_MS;
