import { useLiveQuery } from 'dexie-react-hooks';
import { useState } from 'react';
import { inLanguage, languageName } from '../../shared/interview/languages';
import { db, type DeviceRow } from '../store/db';
import { useSync } from '../store/syncContext';
import { SPOKEN, useTexts, type Spoken } from '../texts/texts';
import { Frame } from '../ui/Frame';
import { dayAndTime } from '../ui/states';
import { SaveAll } from '../ui/Boundary';
import type { Readiness } from '../store/readiness';
import { useReadiness } from '../ui/useReadiness';

export function Me({ device }: { device: DeviceRow }) {
  const sync = useSync();
  const { t, language } = useTexts();
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
    [t('study'), device.study],
    [t('enumerator'), device.enumerator],
    [t('thisPhone'), device.device],
    [t('heard'), dayAndTime(device.heardAt, language)],
    [t('worksOffline'), readiness === null ? '…' : t(READY[readiness])],
    [t('allToldHandedIn'), String(counts?.handedIn ?? 0)],
    ...releases.map((r): [string, string] => {
      const values = { title: inLanguage(r.title, language), number: r.number };
      return [t('questionnaire'), t(r.newest === 1 ? 'newestRelease' : 'olderRelease', values)];
    }),
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
          {sync.busy ? t('asking') : t('sendAndFetch')}
        </button>
        <LanguageChoice />
        <SaveAll />
        <Unpair held={counts?.held ?? 0} />
      </div>
    </Frame>
  );
}

const READY = {
  ready: 'offline_ready',
  starting: 'offline_starting',
  fetching: 'offline_fetching',
  never: 'offline_never',
} as const satisfies Record<Readiness, string>;

/** The language of the phone's own pages; an interview has its own. */
function LanguageChoice() {
  const { t, language, speak } = useTexts();
  return (
    <label className="language-choice">
      {t('language')}
      <select
        value={language}
        onChange={(event) => {
          speak(event.target.value as Spoken);
        }}
      >
        {SPOKEN.map((tag) => (
          <option key={tag} value={tag}>
            {languageName(tag)}
          </option>
        ))}
      </select>
    </label>
  );
}

/** Unpairing clears the phone; refused while it holds interviews that are not at the office. */
function Unpair({ held }: { held: number }) {
  const { t } = useTexts();
  const [asking, setAsking] = useState(false);
  if (held > 0) return <p className="quiet">{t('cannotUnpair', { count: held })}</p>;
  if (!asking) {
    return (
      <button
        type="button"
        className="plain-button"
        onClick={() => {
          setAsking(true);
        }}
      >
        {t('unpairPhone')}
      </button>
    );
  }
  return (
    <div className="note should">
      <p>{t('unpairWhat')}</p>
      <button
        type="button"
        onClick={() =>
          void db.delete().then(() => {
            window.location.assign('/field/');
          })
        }
      >
        {t('unpair')}
      </button>
      <button
        type="button"
        onClick={() => {
          setAsking(false);
        }}
      >
        {t('leavePaired')}
      </button>
    </div>
  );
}
