import { useLiveQuery } from 'dexie-react-hooks';
import { useState } from 'react';
import { Link } from 'react-router';
import { inLanguage, languageName } from '../../shared/interview/languages';
import type { Translate } from '../../shared/texts/catalogue';
import { lockPhone, settlePin } from '../store/access';
import { waitingAlong } from '../store/carried';
import { db, type DeviceRow, type Tally } from '../store/db';
import { headsIn } from '../store/kept';
import { shareOf } from '../store/sheets';
import { useSync } from '../store/syncContext';
import { SPOKEN, useTexts, type FieldText, type Spoken } from '../texts/texts';
import { Frame } from '../ui/Frame';
import { dayAndTime } from '../ui/states';
import { SaveAll } from '../ui/Boundary';
import { ReadReceipts, TakenAlong } from '../ui/Carried';
import { Help } from '../ui/Help';
import { NewPin } from './ChoosePin';
import type { Readiness } from '../store/readiness';
import { useReadiness } from '../ui/useReadiness';

export function Me({ device }: { device: DeviceRow }) {
  const sync = useSync();
  const { t, language } = useTexts();
  const readiness = useReadiness();
  const releases = useLiveQuery(() => db.releases.toArray(), []) ?? [];
  const maps = useLiveQuery(async () => {
    const rows = await db.sheets.toArray();
    return Promise.all(rows.map(async (row) => ({ ...row.line, share: await shareOf(row) })));
  }, []);
  const held = useLiveQuery(async () => {
    const rows = (await headsIn('in hand', 'packed')).filter((row) => row.practice !== 1);
    return rows.length + (await waitingAlong());
  }, []);
  const facts: [string, string][] = [
    [t('study'), device.study],
    [t('enumerator'), device.enumerator],
    [t('thisPhone'), device.device],
    [t('heard'), dayAndTime(device.heardAt, language)],
    [t('worksOffline'), readiness === null ? '…' : t(READY[readiness])],
    ...tallyFacts(device.tally, t),
    ...releases.map((r): [string, string] => {
      const values = { title: inLanguage(r.title, language), number: r.number };
      return [t('questionnaire'), t(r.newest === 1 ? 'newestRelease' : 'olderRelease', values)];
    }),
    ...(maps ?? []).map(({ name, bytes, share }): [string, string] => {
      const size = Math.max(0.1, bytes / 1e6).toFixed(1);
      const part = { name, size, percent: Math.floor(100 * share) };
      return [t('map'), share === 1 ? t('mapHere', { name, size }) : t('mapPart', part)];
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
      <Help settings={device.settings} />
      <div className="stack">
        <button
          type="button"
          className="wide-button secondary"
          disabled={sync.busy}
          onClick={() => void sync.run('by hand')}
        >
          {sync.busy ? t('asking') : t('sendAndFetch')}
        </button>
        <Link className="wide-button secondary" to="/receipts">
          {t('showReceipts')}
        </Link>
        <Pin device={device} />
        <LanguageChoice />
        <SaveAll />
        <TakenAlong />
        <ReadReceipts />
        <Unpair held={held ?? 0} />
      </div>
    </Frame>
  );
}

/** What the office confirms to have. */
const tallyFacts = (tally: Tally | undefined, t: Translate<FieldText>): [string, string][] =>
  tally === undefined
    ? []
    : [
        [t('tallyToday'), String(tally.today)],
        [t('tallyAll'), String(tally.all)],
        [t('tallyAccepted'), String(tally.accepted)],
      ];

/** Locking the phone and changing its PIN, where it has one. */
function Pin({ device }: { device: DeviceRow }) {
  const { t } = useTexts();
  const [changing, setChanging] = useState(false);
  const pinned = useLiveQuery(async () => (await db.vault.orderBy('generation').last())?.pinned === true, []);
  if (pinned !== true) return null;
  if (changing)
    return (
      <NewPin
        words={t('usePin')}
        onDone={() => {
          setChanging(false);
        }}
      />
    );
  return (
    <div className="action-row">
      <button type="button" className="wide-button secondary" onClick={() => void lockPhone()}>
        {t('lockNow')}
      </button>
      <button
        type="button"
        className="wide-button secondary"
        onClick={() => {
          setChanging(true);
        }}
      >
        {t('changePin')}
      </button>
      {device.settings?.pin === false && (
        <button type="button" className="wide-button secondary" onClick={() => void settlePin('')}>
          {t('dropPin')}
        </button>
      )}
    </div>
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
