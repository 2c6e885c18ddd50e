import { useLiveQuery } from 'dexie-react-hooks';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { inLanguage } from '../../shared/interview/languages';
import { db, type DeviceRow, type ReleaseRow } from '../store/db';
import { startInterview } from '../store/interviews';
import type { Readiness } from '../store/readiness';
import { useSync } from '../store/syncContext';
import { Frame } from '../ui/Frame';
import { InterviewLine } from '../ui/InterviewLine';
import { SHAPES, isToday, timeOf } from '../ui/states';
import { changeOver } from '../store/update';
import { useReadiness, useUpdateWaiting } from '../ui/useReadiness';

export function Today({ device }: { device: DeviceRow }) {
  const sync = useSync();
  const readiness = useReadiness();
  const rows = useLiveQuery(() => db.interviews.orderBy('changedAt').reverse().toArray(), []) ?? [];
  const releases = useLiveQuery(() => db.releases.where('newest').equals(1).toArray(), []);
  const inHand = rows.filter((r) => r.state === 'in hand');
  const sentBack = inHand.filter((r) => r.correction !== undefined);
  const begun = inHand.filter((r) => r.correction === undefined);
  const packed = rows.filter((r) => r.state === 'packed');
  const handedIn = rows.filter((r) => r.state === 'handed in' && isToday(r.changedAt));
  const today = new Date().toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long' });
  const network = sync.busy ? 'sending …' : sync.online ? 'network' : `no network since ${timeOf(sync.since)}`;
  return (
    <Frame
      head={
        <>
          <div className="head-line">
            <span>{today}</span>
            <span>{network}</span>
          </div>
          <h1>{device.study}</h1>
          <div className="tallies">
            <Tally shape={SHAPES['in hand']} count={inHand.length} word="in hand" />
            <Tally shape={SHAPES.packed} count={packed.length} word="packed" />
            <Tally shape={SHAPES['handed in']} count={handedIn.length} word="handed in today" />
          </div>
        </>
      }
      action={<StartButton releases={releases} />}
    >
      {readiness !== null && READINESS[readiness] !== '' && (
        <p className="note should" role="status">
          {READINESS[readiness]}
        </p>
      )}
      <NewBuild />
      <ClockNote seconds={device.clockAheadSeconds ?? 0} />
      {sync.problem !== '' && (
        <p className="note must" role="alert">
          {sync.problem}
        </p>
      )}
      {sentBack.length > 0 && <h2>Sent back by the office</h2>}
      {sentBack.map((row) => (
        <InterviewLine key={row.uuid} row={row} />
      ))}
      {begun.length > 0 && <h2>Go on</h2>}
      {begun.map((row) => (
        <InterviewLine key={row.uuid} row={row} />
      ))}
      {packed.length > 0 && <h2>Waiting to be sent</h2>}
      {packed.map((row) => (
        <InterviewLine key={row.uuid} row={row} />
      ))}
      {handedIn.length > 0 && <h2>Reached the office today</h2>}
      {handedIn.slice(0, 20).map((row) => (
        <InterviewLine key={row.uuid} row={row} />
      ))}
      {inHand.length + packed.length + handedIn.length === 0 && (
        <div className="empty">
          <p>
            <b>Nothing begun yet today.</b>
          </p>
          <p>Start an interview below. It works without a network and is kept after every answer.</p>
        </div>
      )}
    </Frame>
  );
}

const READINESS: Record<Readiness, string> = {
  never: 'This browser cannot work without a network. Open Skavo in another one.',
  fetching: 'Still fetching what work without a network needs. Stay connected for a moment.',
  starting: 'Trying out whether everything works without a network. Stay connected for a moment.',
  ready: '',
};

/** The one moment to change over to a newer Skavo: here, with no interview open. */
function NewBuild() {
  const waiting = useUpdateWaiting();
  const [open, setOpen] = useState(0);
  if (!waiting) return null;
  return (
    <div className="note should" role="status">
      <p>
        A newer Skavo is on this phone.{' '}
        {open > 0
          ? `${String(open)} ${open === 1 ? 'interview is' : 'interviews are'} open in another tab: leave it first.`
          : 'What is in hand goes on in it.'}
      </p>
      <button type="button" onClick={() => void changeOver().then(setOpen)}>
        Change over now
      </button>
    </div>
  );
}

const CLOCK_MATTERS_SECONDS = 300;

function ClockNote({ seconds }: { seconds: number }) {
  if (Math.abs(seconds) < CLOCK_MATTERS_SECONDS) return null;
  const minutes = Math.round(Math.abs(seconds) / 60);
  const long =
    minutes < 120
      ? `${String(minutes)} minutes`
      : minutes < 2880
        ? `${String(Math.round(minutes / 60))} hours`
        : `${String(Math.round(minutes / 1440))} days`;
  return (
    <p className="note should" role="status">
      This phone’s clock is {long} {seconds > 0 ? 'ahead of' : 'behind'} the office’s. Set it right: the times of
      interviews come from it.
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
  const [choosing, setChoosing] = useState(false);
  const start = async (release: ReleaseRow, practice: boolean) => {
    void navigate(`/interviews/${await startInterview(release, practice)}`);
  };
  if (releases === undefined) return null;
  if (releases.length === 0) {
    const hint = sync.busy
      ? 'Fetching the questionnaire …'
      : sync.online
        ? 'The office has not released a questionnaire yet.'
        : 'No questionnaire on this phone yet: it is fetched as soon as there is a network.';
    return (
      <p className="action-hint" role="status">
        {hint}
      </p>
    );
  }
  if (!choosing) {
    const only = releases.length === 1 ? releases[0] : undefined;
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
          Start an interview
        </button>
        <button
          type="button"
          className="more-button"
          aria-label="More ways to start"
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
    <div className="chooser" role="dialog" aria-label="Start an interview">
      {releases.map((release) => (
        <div key={release.hash}>
          <p>
            {inLanguage(release.title, 'en')} <span className="quiet">release {release.number}</span>
          </p>
          <div className="action-row">
            <button type="button" className="wide-button" onClick={() => void start(release, false)}>
              Start
            </button>
            <button type="button" className="wide-button secondary" onClick={() => void start(release, true)}>
              Practise
            </button>
          </div>
        </div>
      ))}
      <button
        type="button"
        className="plain-button"
        onClick={() => {
          setChoosing(false);
        }}
      >
        Close
      </button>
    </div>
  );
}
