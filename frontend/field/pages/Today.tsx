import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { Problem } from '../../shared/api/client';
import { inLanguage } from '../../shared/interview/languages';
import { db, type DeviceRow, type InterviewListed, type ReleaseRow } from '../store/db';
import { listInterviews } from '../store/kept';
import { startInterview } from '../store/interviews';
import { takeUp } from '../store/left';
import { useFrame, usePlanned } from '../store/day';
import { aboutPhone, isMetered } from '../store/phone';
import { useSettings } from '../store/settings';
import { useSync } from '../store/syncContext';
import { problemWords } from '../texts/problems';
import { useTexts } from '../texts/texts';
import { Frame } from '../ui/Frame';
import { InterviewLine } from '../ui/InterviewLine';
import { VisitLine } from '../ui/VisitLine';
import { SHAPES, dayAndTime, dayInFull, isToday, timeOf } from '../ui/states';
import { changeOver } from '../store/update';
import { useReadiness, useUpdateWaiting } from '../ui/useReadiness';

export function Today({ device }: { device: DeviceRow }) {
  const sync = useSync();
  const { t, language } = useTexts();
  const readiness = useReadiness();
  const rows = useLiveQuery(listInterviews, []) ?? [];
  const releases = useLiveQuery(() => db.releases.where('newest').equals(1).toArray(), []);
  const inHand = rows.filter((r) => r.state === 'in hand');
  const sentBack = inHand.filter((r) => r.correction !== undefined);
  const begun = inHand.filter((r) => r.correction === undefined);
  const packed = rows.filter((r) => r.state === 'packed');
  const handedIn = rows.filter((r) => r.state === 'handed in' && isToday(r.changedAt));
  const network = sync.busy
    ? t('sending')
    : sync.online
      ? t('network')
      : t('noNetworkSince', { time: timeOf(sync.since) });
  return (
    <Frame
      head={
        <>
          <div className="head-line">
            <span>{dayInFull(new Date(), language)}</span>
            <span>{network}</span>
          </div>
          <h1>{device.study}</h1>
          <div className="tallies">
            <Tally shape={SHAPES['in hand']} count={inHand.length} word={t('in_hand')} />
            <Tally shape={SHAPES.packed} count={packed.length} word={t('packed')} />
            <Tally
              shape={SHAPES['handed in']}
              // What was practised is not paid.
              count={Math.max(handedIn.filter((r) => r.practice !== 1).length, device.tally?.today ?? 0)}
              word={t('handedInToday')}
            />
          </div>
        </>
      }
      action={<StartButton releases={releases} />}
    >
      {readiness !== null && readiness !== 'ready' && (
        <p className="note should" role="status">
          {t(READINESS[readiness])}
        </p>
      )}
      <NewBuild />
      <ClockNote seconds={device.clockAheadSeconds ?? 0} />
      {sync.problem !== '' && (
        <p className="note must" role="alert">
          {sync.problem}
        </p>
      )}
      <SendingNote packed={packed.length} />
      <StorageNote />
      {sentBack.length > 0 && <h2>{t('sentBackTitle')}</h2>}
      {sentBack.map((row) => (
        <InterviewLine key={row.uuid} row={row} />
      ))}
      {begun.length > 0 && <h2>{t('goOn')}</h2>}
      <First rows={begun} />
      <LeftAtOffice device={device} here={new Set(rows.map((row) => row.uuid))} />
      <VisitsOfToday />
      <ChangesWaiting />
      {packed.length > 0 && <h2>{t('waitingToBeSent')}</h2>}
      <First rows={packed} />
      {handedIn.length > 0 && <h2>{t('reachedToday')}</h2>}
      <First rows={handedIn} />
      {inHand.length + packed.length + handedIn.length === 0 && device.visits === undefined && (
        <div className="empty">
          <p>
            <b>{t('nothingToday')}</b>
          </p>
          <p>{t('nothingTodayWhy')}</p>
        </div>
      )}
    </Frame>
  );
}

const VISITS_SHOWN = 8;

/** Whom to visit next, in the order of the day. */
function VisitsOfToday() {
  const { t } = useTexts();
  const frame = useFrame();
  const planned = usePlanned(frame);
  if (frame === undefined || planned === null || planned.length === 0) return null;
  const due = planned.filter((visit) => visit.line.is_due);
  return (
    <>
      <h2>{t('visitsToday', { count: due.length })}</h2>
      {due.slice(0, VISITS_SHOWN).map((visit) => (
        <VisitLine key={visit.visit} visit={visit} frame={frame} />
      ))}
      <Link className="plain-button as-button" to="/visits">
        {t('allVisits', { count: planned.length })}
      </Link>
    </>
  );
}

/** Changes of the register that the office does not have yet. */
function ChangesWaiting() {
  const { t } = useTexts();
  const waiting = useLiveQuery(
    () => db.interviews.filter((row) => row.unit === 1 && row.state !== 'handed in').count(),
    [],
  );
  if (waiting === undefined || waiting === 0) return null;
  return (
    <Link className="plain-button as-button" to="/units">
      {t('changesWaiting', { count: waiting })}
    </Link>
  );
}

const MOST_SHOWN = 20;

/** As many as one looks through; all of them are among the interviews. */
function First({ rows }: { rows: InterviewListed[] }) {
  const { t } = useTexts();
  return (
    <>
      {rows.slice(0, MOST_SHOWN).map((row) => (
        <InterviewLine key={row.uuid} row={row} />
      ))}
      {rows.length > MOST_SHOWN && (
        <Link className="plain-button as-button" to="/interviews">
          {t('showMore', { count: rows.length - MOST_SHOWN })}
        </Link>
      )}
    </>
  );
}

const READINESS = { never: 'ready_never', fetching: 'ready_fetching', starting: 'ready_starting' } as const;

/** The one moment to change over to a newer Skavo: here, with no interview open. */
function NewBuild() {
  const { t } = useTexts();
  const waiting = useUpdateWaiting();
  const [open, setOpen] = useState(0);
  if (!waiting) return null;
  return (
    <div className="note should" role="status">
      <p>{open > 0 ? t('newBuildOpen', { count: open }) : t('newBuild')}</p>
      <button type="button" onClick={() => void changeOver().then(setOpen)}>
        {t('changeOver')}
      </button>
    </div>
  );
}

/** Why what is packed does not go by itself. */
function SendingNote({ packed }: { packed: number }) {
  const { t } = useTexts();
  const { sends } = useSettings();
  if (packed === 0 || sends === 'any network' || (sends === 'unmetered' && !isMetered())) return null;
  return (
    <p className="note should" role="status">
      {t(sends === 'by hand' ? 'byHand' : 'metered')}
    </p>
  );
}

const NEARLY_FULL = 0.85;

/** Storage that runs short is said while there is still time to hand in. */
function StorageNote() {
  const { t } = useTexts();
  const [used, setUsed] = useState(0);
  useEffect(() => {
    let live = true;
    void aboutPhone().then(({ storage_used: here, storage_quota: quota }) => {
      if (live && here !== null && quota !== null && quota > 0) setUsed(here / quota);
    });
    return () => {
      live = false;
    };
  }, []);
  if (used < NEARLY_FULL) return null;
  return (
    <p className="note must" role="alert">
      {t('storageNearlyFull', { percent: Math.round(100 * used) })}
    </p>
  );
}

/** What waits at the office, left there by this person on another phone. */
function LeftAtOffice({ device, here }: { device: DeviceRow; here: Set<string> }) {
  const { t, language } = useTexts();
  const navigate = useNavigate();
  const [problem, setProblem] = useState('');
  const left = (device.left ?? []).filter((one) => !here.has(one.uuid));
  if (left.length === 0) return null;
  const goOn = async (uuid: string) => {
    try {
      await takeUp(uuid);
      void navigate(`/interviews/${uuid}`);
    } catch (error) {
      setProblem(error instanceof Problem ? problemWords(error, t) : t('sendingFailed'));
    }
  };
  return (
    <>
      <h2>{t('atOffice')}</h2>
      {problem !== '' && (
        <p className="note must" role="alert">
          {problem}
        </p>
      )}
      {left.map((one) => (
        <button key={one.uuid} type="button" className="line" onClick={() => void goOn(one.uuid)}>
          <span className="line-text">
            <b>{one.label}</b>
            <span>{t('leftOn', { device: one.on, when: dayAndTime(one.left_at, language) })}</span>
          </span>
          <span className="line-side">{t('takeUp')}</span>
        </button>
      ))}
    </>
  );
}

const CLOCK_MATTERS_SECONDS = 300;

function ClockNote({ seconds }: { seconds: number }) {
  const { t } = useTexts();
  if (Math.abs(seconds) < CLOCK_MATTERS_SECONDS) return null;
  const minutes = Math.round(Math.abs(seconds) / 60);
  const long =
    minutes < 120
      ? t('minutes', { n: minutes })
      : minutes < 2880
        ? t('hours', { n: Math.round(minutes / 60) })
        : t('days', { n: Math.round(minutes / 1440) });
  return (
    <p className="note should" role="status">
      {t(seconds > 0 ? 'clockAhead' : 'clockBehind', { long })}
    </p>
  );
}

function Tally({ shape, count, word }: { shape: string; count: number; word: string }) {
  return (
    <div className="tally">
      <b>
        <span aria-hidden>{shape}</span> {count}
      </b>
      <span>{word}</span>
    </div>
  );
}

function StartButton({ releases }: { releases: ReleaseRow[] | undefined }) {
  const sync = useSync();
  const navigate = useNavigate();
  const { t, language } = useTexts();
  const [choosing, setChoosing] = useState(false);
  const settings = useSettings();
  const start = async (release: ReleaseRow, practice: boolean, exercise?: string) => {
    void navigate(`/interviews/${await startInterview(release, practice, exercise)}`);
  };
  if (releases === undefined) return null;
  if (releases.length === 0) {
    const hint = sync.busy ? t('fetchingQuestionnaire') : sync.online ? t('notReleased') : t('noQuestionnaire');
    return (
      <p className="action-hint" role="status">
        {hint}
      </p>
    );
  }
  if (!choosing) {
    const only = releases.length === 1 && releases[0]?.practice !== 1 ? releases[0] : undefined;
    return (
      <div className="action-row">
        <button
          type="button"
          className="wide-button"
          onClick={() => {
            if (only) void start(only, false);
            else setChoosing(true);
          }}
        >
          {t('start')}
        </button>
        <button
          type="button"
          className="more-button"
          aria-label={t('moreWays')}
          onClick={() => {
            setChoosing(true);
          }}
        >
          ⋯
        </button>
      </div>
    );
  }
  return (
    <div className="chooser" role="dialog" aria-label={t('start')}>
      {releases.map((release) => (
        <div key={release.hash}>
          <p>
            {inLanguage(release.title, language)}{' '}
            <span className="quiet">{t('release', { number: release.number })}</span>
            {release.practice === 1 && <b className="pilot"> {t('forPractice')}</b>}
          </p>
          <div className="action-row">
            {release.practice !== 1 && (
              <button type="button" className="wide-button" onClick={() => void start(release, false)}>
                {t('startShort')}
              </button>
            )}
            {(settings.practice || release.practice === 1) && (
              <button type="button" className="wide-button secondary" onClick={() => void start(release, true)}>
                {t('practise')}
              </button>
            )}
          </div>
          {(settings.practice || release.practice === 1) &&
            release.exercises?.all.map((exercise) => (
              <button
                key={exercise.name}
                type="button"
                className="plain-button"
                onClick={() => void start(release, true, exercise.name)}
              >
                {t('exercise', { name: exercise.name })}
              </button>
            ))}
        </div>
      ))}
      <button
        type="button"
        className="plain-button"
        onClick={() => {
          setChoosing(false);
        }}
      >
        {t('close')}
      </button>
    </div>
  );
}
