// One visit on the phone: whom, where, what was tried; begin the interview, or say what happened instead.
import { useLiveQuery } from 'dexie-react-hooks';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { OutcomeMark } from '../../shared/map/OutcomeMark';
import { outcomeWords } from '../../shared/map/outcomes';
import { usePlanned, useFrame, type Planned } from '../store/day';
import { db, type VisitsFrame } from '../store/db';
import { listInterviews } from '../store/kept';
import { startInterview } from '../store/interviews';
import { useSync } from '../store/syncContext';
import { placeNow } from '../store/noted';
import { keepAttempt } from '../store/visits';
import { TROUBLES, troubleOf } from '../store/troubles';
import { useTexts } from '../texts/texts';
import { Gone } from '../ui/Gone';
import { dayAndTime } from '../ui/states';
import { useUnits } from './useUnits';
import { distance, lookOf, nextWords } from '../ui/visits';

export function VisitPage() {
  const { visit: identity } = useParams();
  const { t } = useTexts();
  const frame = useFrame();
  const planned = usePlanned(frame);
  if (frame === undefined || planned === null) return null;
  const visit = planned.find((one) => one.visit === identity);
  if (visit === undefined) return <Gone words={t('visitGone')} to="/" label={t('today')} />;
  return <Shown visit={visit} frame={frame} />;
}

function Shown({ visit, frame }: { visit: Planned; frame: VisitsFrame }) {
  const { t, language } = useTexts();
  const navigate = useNavigate();
  const [telling, setTelling] = useState(false);
  const questionnaire = frame.lists.find((list) => list.id === visit.list_id)?.questionnaire_id;
  const release = useLiveQuery(
    async () =>
      (await db.releases.where('newest').equals(1).toArray()).find(
        (one) => one.questionnaireId === questionnaire && one.practice !== 1,
      ),
    [questionnaire],
  );
  const begun = useLiveQuery(
    async () => (await listInterviews()).find((one) => one.visited?.visit === visit.visit && one.state === 'in hand'),
    [visit.visit],
  );
  const held = useUnits()?.byId.get(visit.known.unit ?? '');
  const isOpen = visit.line.standing === 'open';
  const begin = async () => {
    if (begun !== undefined) void navigate(`/interviews/${begun.uuid}`);
    else if (release !== undefined) {
      const visited = { visit: visit.visit, known: visit.known };
      const uuid = await startInterview(release, false, undefined, { visited, label: visit.label });
      void navigate(`/interviews/${uuid}`);
    }
  };
  const next = nextWords({ ...visit, attempts: [] }, frame, t, language);
  return (
    <div className="frame">
      <header className="frame-head visit-head">
        <button
          type="button"
          className="back"
          aria-label={t('close')}
          onClick={() => {
            void navigate(-1);
          }}
        >
          ‹
        </button>
        <h1>
          <bdi>{visit.label}</bdi>
        </h1>
      </header>
      <main className="frame-body padded">
        <p className="visit-where">
          {[visit.area, visit.key === visit.label ? '' : visit.key].filter((piece) => piece !== '').join(' · ')}
          {visit.line.metres !== null && ` · ${distance(visit.line.metres, t)}`}
        </p>
        {held !== undefined && (
          <Link className="plain-button as-button" to={`/units/${held.unit}`}>
            {t('unitHere')} ›
          </Link>
        )}
        {next !== '' && <p className="note should">{next}</p>}
        {visit.remark !== '' && (
          <p className="note-plain" dir="auto">
            {visit.remark}
          </p>
        )}
        {!telling && visit.attempts.length === 0 && <p className="quiet">{t('nobodyYet')}</p>}
        {!telling && (
          <ol className="attempts">
            {[...visit.attempts].reverse().map((attempt, at, all) => (
              <li key={attempt.identity}>
                <OutcomeMark look={lookOf({ ...visit, attempts: visit.attempts.slice(0, all.length - at) }, frame)} />
                <span>
                  <b>{outcomeWords(frame.outcomes, attempt.outcome, language)}</b> {dayAndTime(attempt.at, language)}
                  {attempt.by !== '' && !attempt.own && ` · ${attempt.by}`}
                  {attempt.waits && ` · ${t('waitsToBeSent')}`}
                  {attempt.remark !== '' && <q dir="auto">{attempt.remark}</q>}
                  {attempt.problem !== undefined && <span className="line-problem">{attempt.problem}</span>}
                </span>
              </li>
            ))}
          </ol>
        )}
        {telling && (
          <WhatHappened
            visit={visit}
            frame={frame}
            onDone={() => {
              setTelling(false);
            }}
          />
        )}
      </main>
      {!telling && (
        <div className="frame-action">
          <div className="action-row">
            {isOpen && (release !== undefined || begun !== undefined) && (
              <button type="button" className="wide-button" onClick={() => void begin()}>
                {begun === undefined ? t('beginHere') : t('goOnHere')}
              </button>
            )}
            <button
              type="button"
              className="wide-button secondary"
              onClick={() => {
                setTelling(true);
              }}
            >
              {t('whatHappened')}
            </button>
          </div>
        </div>
      )}
    </div>
  );
}

/** How an attempt ended: one press where nothing more is to be said. */
function WhatHappened({ visit, frame, onDone }: { visit: Planned; frame: VisitsFrame; onDone: () => void }) {
  const { t, language } = useTexts();
  const sync = useSync();
  const [outcome, setOutcome] = useState('');
  const [when, setWhen] = useState('');
  const [remark, setRemark] = useState('');
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState('');
  const chosen = frame.outcomes.find((one) => one.code === outcome);
  const needsMoment = chosen?.names_moment === true;
  const keep = async () => {
    setBusy(true);
    try {
      const place = await placeNow();
      await keepAttempt({
        visit: visit.visit,
        outcome,
        at: new Date().toISOString(),
        appointment: needsMoment ? new Date(when).toISOString() : null,
        remark: remark.trim(),
        interview: '',
        latitude: place?.latitude ?? null,
        longitude: place?.longitude ?? null,
        accuracy: place?.accuracy ?? null,
      });
      void sync.run();
      onDone();
    } catch (error) {
      console.error(error);
      setProblem(t(TROUBLES[troubleOf(error)]));
      setBusy(false);
    }
  };
  return (
    <form
      className="what-happened"
      onSubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      <h2>{t('howDidItEnd')}</h2>
      <div className="outcome-choices" role="radiogroup" aria-label={t('howDidItEnd')}>
        {frame.outcomes
          .filter((one) => one.counts_as !== 'interview')
          .map((one) => (
            <button
              key={one.code}
              type="button"
              role="radio"
              aria-checked={one.code === outcome}
              onClick={() => {
                setOutcome(one.code);
              }}
            >
              {outcomeWords(frame.outcomes, one.code, language)}
            </button>
          ))}
      </div>
      {needsMoment && (
        <label>
          {t('appointmentFor')}
          <input
            type="datetime-local"
            className="typed"
            required
            value={when}
            onChange={(event) => {
              setWhen(event.target.value);
            }}
          />
        </label>
      )}
      <label>
        {t('whatToKnow')}
        <input
          className="typed"
          dir="auto"
          maxLength={2000}
          value={remark}
          onChange={(event) => {
            setRemark(event.target.value);
          }}
        />
      </label>
      {problem !== '' && (
        <p className="note must" role="alert">
          {problem}
        </p>
      )}
      <div className="action-row">
        <button
          type="submit"
          className="wide-button"
          disabled={busy || chosen === undefined || (needsMoment && when === '')}
        >
          {t('keepAttempt')}
        </button>
        <button type="button" className="wide-button secondary" onClick={onDone}>
          {t('close')}
        </button>
      </div>
    </form>
  );
}
