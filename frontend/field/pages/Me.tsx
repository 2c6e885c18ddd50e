import { useLiveQuery } from 'dexie-react-hooks';
import { useState } from 'react';
import { inLanguage } from '../../shared/interview/languages';
import { db, type DeviceRow } from '../store/db';
import { useSync } from '../store/syncContext';
import { Frame } from '../ui/Frame';
import { dayAndTime } from '../ui/states';
import { SaveAll } from '../ui/Boundary';
import type { Readiness } from '../store/readiness';
import { useReadiness } from '../ui/useReadiness';

export function Me({ device }: { device: DeviceRow }) {
  const sync = useSync();
  const readiness = useReadiness();
  const releases = useLiveQuery(() => db.releases.toArray(), []) ?? [];
  const counts = useLiveQuery(async () => {
    const rows = await db.interviews
      .where('practice')
      .notEqual(1)
      .toArray()
      .catch(() => db.interviews.toArray());
    return {
      handedIn: rows.filter((r) => r.state === 'handed in').length,
      held: rows.filter((r) => r.state !== 'handed in').length,
    };
  }, []);
  const facts: [string, string][] = [
    ['Study', device.study],
    ['Enumerator', device.enumerator],
    ['This phone', device.device],
    ['Heard by the office', dayAndTime(device.heardAt)],
    ['Works without a network', readiness === null ? '…' : READY[readiness]],
    ['Handed in, all told', String(counts?.handedIn ?? 0)],
    ...releases.map((r): [string, string] => [
      `Questionnaire`,
      `${inLanguage(r.title, 'en')}, release ${String(r.number)}${r.newest === 1 ? '' : ' (older, still in use)'}`,
    ]),
  ];
  return (
    <Frame head={<h1>{device.enumerator}</h1>}>
      <dl className="facts">
        {facts.map(([what, value]) => (
          <div key={what + value}>
            <dt>{what}</dt>
            <dd>{value}</dd>
          </div>
        ))}
      </dl>
      {sync.problem !== '' && (
        <p className="note must" role="alert">
          {sync.problem}
        </p>
      )}
      <div className="stack">
        <button type="button" className="wide-button secondary" disabled={sync.busy} onClick={() => void sync.run()}>
          {sync.busy ? 'Asking the office …' : 'Send and fetch now'}
        </button>
        <SaveAll />
        <Unpair held={counts?.held ?? 0} />
      </div>
    </Frame>
  );
}

const READY: Record<Readiness, string> = {
  ready: 'yes, tried out',
  starting: 'being tried out',
  fetching: 'not yet',
  never: 'not in this browser',
};

/** Unpairing clears the phone; refused while it holds interviews that are not at the office. */
function Unpair({ held }: { held: number }) {
  const [asking, setAsking] = useState(false);
  if (held > 0)
    return (
      <p className="quiet">
        This phone cannot be unpaired while it holds {held} {held === 1 ? 'interview that is' : 'interviews that are'}{' '}
        not handed in.
      </p>
    );
  if (!asking)
    return (
      <button
        type="button"
        className="plain-button"
        onClick={() => {
          setAsking(true);
        }}
      >
        Unpair this phone
      </button>
    );
  return (
    <div className="note should">
      <p>The list of what was handed in will be cleared from this phone. The office keeps everything.</p>
      <button
        type="button"
        onClick={() =>
          void db.delete().then(() => {
            window.location.assign('/field/');
          })
        }
      >
        Unpair
      </button>
      <button
        type="button"
        onClick={() => {
          setAsking(false);
        }}
      >
        Leave it paired
      </button>
    </div>
  );
}
