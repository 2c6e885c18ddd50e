// One unit of the register on the phone: what is known of it, what lies below it; to be changed, added to, or closed.
import { useEffect, useState } from 'react';
import { Navigate, useNavigate, useParams } from 'react-router';
import { theEngine } from '../../shared/engine/client';
import type { Json, OverviewLine } from '../../shared/engine/types';
import { headingOf } from '../../shared/interview/headings';
import { inLanguage } from '../../shared/interview/languages';
import { textsIn } from '../../shared/interview/texts';
import { db } from '../store/db';
import { momentHere } from '../store/interviews';
import { useSync } from '../store/syncContext';
import { TROUBLES, troubleOf } from '../store/troubles';
import { closeUnit, dropChange, startChange } from '../store/unitChanges';
import { fieldsOf, hiddenPaths, type CarriedKind, type UnitHere } from '../store/units';
import { useTexts } from '../texts/texts';
import { Places } from '../ui/Frame';
import { Gone } from '../ui/Gone';
import { MakeUnit } from '../ui/MakeUnit';
import { UnitLine } from '../ui/UnitLine';
import { madeUnder, useUnits, type Units } from './useUnits';

export function UnitPage() {
  const { unit: identity = '' } = useParams();
  const { t } = useTexts();
  const units = useUnits();
  if (units === null) return <Navigate to="/" replace />;
  if (units === undefined) return null;
  const unit = units.byId.get(identity);
  const kind = unit === undefined ? undefined : units.kinds.get(unit.kind);
  if (unit === undefined || kind === undefined) return <Gone words={t('unitGone')} to="/units" label={t('register')} />;
  return <Shown key={unit.unit} unit={unit} kind={kind} units={units} />;
}

const BELOW_SHOWN = 60;

function Shown({ unit, kind, units }: { unit: UnitHere; kind: CarriedKind; units: Units }) {
  const { t, language } = useTexts();
  const navigate = useNavigate();
  const sync = useSync();
  const [closing, setClosing] = useState(false);
  const [problem, setProblem] = useState('');
  const [shown, setShown] = useState(BELOW_SHOWN);
  const way = units.way(unit);
  const below = units.below.get(unit.unit) ?? [];
  const makes = madeUnder(units, unit);
  const mayChange = kind.settings.on_phones === 'change' && kind.hash !== '';
  const tried = async (act: () => Promise<void>) => {
    try {
      await act();
    } catch (error) {
      console.error(error);
      setProblem(t(TROUBLES[troubleOf(error)]));
    }
  };
  const change = (at = '') =>
    tried(async () => {
      void navigate(`/interviews/${await startChange(kind, unit, at)}`);
    });
  const above = way.at(-1);
  return (
    <div className="frame">
      <header className="frame-head visit-head">
        <button
          type="button"
          className="back"
          aria-label={t('back')}
          onClick={() => void navigate(above === undefined ? '/units' : `/units/${above.unit}`)}
        >
          ‹
        </button>
        <h1>
          <span className="unit-glyph" aria-hidden>
            {kind.settings.glyph}
          </span>{' '}
          <bdi>{unit.label}</bdi>
        </h1>
      </header>
      <main className="frame-body">
        <p className="unit-where">
          {[inLanguage(kind.title, language), ...way.map((one) => one.label), unit.key === unit.label ? '' : unit.key]
            .filter((piece) => piece !== '')
            .join(' · ')}
        </p>
        {unit.waits && <p className="note should">{t('unitWaits')}</p>}
        {unit.undecided && <p className="note should">{t('unitUndecidedWhy')}</p>}
        {problem !== '' && (
          <p className="note must" role="alert">
            {problem}
          </p>
        )}
        {unit.inHand !== '' && (
          <div className="note should">
            <p>{t('unitInHand')}</p>
            <button
              type="button"
              onClick={() => {
                void tried(() => dropChange(unit.inHand));
              }}
            >
              {t('dropChange')}
            </button>
          </div>
        )}
        {closing ? (
          <Closing
            onClose={(why) =>
              void tried(async () => {
                await closeUnit(kind, unit, why);
                void sync.run();
                void navigate(above === undefined ? '/units' : `/units/${above.unit}`, { replace: true });
              })
            }
            onLeave={() => {
              setClosing(false);
            }}
          />
        ) : (
          <>
            <Fields unit={unit} kind={kind} onChange={mayChange ? (path) => void change(path) : undefined} />
            {below.length > 0 && <h2>{t('below', { count: below.length })}</h2>}
            {below.slice(0, shown).map((one) => (
              <UnitLine
                key={one.unit}
                unit={one}
                kind={units.kinds.get(one.kind)}
                below={units.below.get(one.unit)?.length ?? 0}
              />
            ))}
            {below.length > shown && (
              <button
                type="button"
                className="plain-button"
                onClick={() => {
                  setShown(shown + 5 * BELOW_SHOWN);
                }}
              >
                {t('showMore', { count: below.length - shown })}
              </button>
            )}
            {mayChange && unit.inHand === '' && (
              <button
                type="button"
                className="plain-button"
                onClick={() => {
                  setClosing(true);
                }}
              >
                {t('noLongerThere')}
              </button>
            )}
          </>
        )}
      </main>
      {!closing && (mayChange || makes.length > 0) && (
        <div className="frame-action">
          <div className="action-row wrapping">
            {mayChange && (
              <button type="button" className="wide-button" onClick={() => void change()}>
                {unit.inHand === '' ? t('changeUnit') : t('goOnHere')}
              </button>
            )}
            {makes.length > 0 && <MakeUnit kinds={makes} above={unit} />}
          </div>
        </div>
      )}
      <Places />
    </div>
  );
}

/** What is known of a unit, line by line; a press changes it there. */
function Fields({ unit, kind, onChange }: { unit: UnitHere; kind: CarriedKind; onChange?: (path: string) => void }) {
  const { t: own, language } = useTexts();
  const lines = useFields(unit, kind, language);
  const t = textsIn(language);
  if (lines === null) return <p className="note-plain quiet">{own('gettingReady')}</p>;
  if (lines === 'failed')
    return (
      <p className="note must" role="alert">
        {own('notListed')}
      </p>
    );
  const headings = lines.map((line) => headingOf(line.around, t));
  return lines.map((line, at) => {
    const text = (
      <span className="unit-field">
        <span>{line.wording}</span>
        <b dir="auto">{line.answer === '' ? '—' : line.answer}</b>
      </span>
    );
    const changes = onChange !== undefined && line.kind !== 'derived value';
    return (
      <div key={line.path}>
        {headings[at] !== headings[at - 1] && headings[at] !== '' && <h2>{headings[at]}</h2>}
        {changes ? (
          <button
            type="button"
            className="line unit-line"
            onClick={() => {
              onChange(line.path);
            }}
          >
            {text}
          </button>
        ) : (
          <div className="line unit-line">{text}</div>
        )}
      </div>
    );
  });
}

/** The fields in words, as the engine says them; null until they are known. */
function useFields(unit: UnitHere, kind: CarriedKind, language: string): OverviewLine[] | null | 'failed' {
  const [lines, setLines] = useState<OverviewLine[] | null | 'failed'>(kind.hash === '' ? [] : null);
  const held = JSON.stringify(unit.answers);
  useEffect(() => {
    let live = true;
    void linesOf(unit, kind, language)
      .then((found) => {
        if (live) setLines(found);
      })
      .catch((error: unknown) => {
        console.error(error);
        if (live) setLines('failed');
      });
    return () => {
      live = false;
    };
    // What it holds is what counts.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [unit.unit, held, kind.hash, language]);
  return lines;
}

async function linesOf(unit: UnitHere, kind: CarriedKind, language: string): Promise<OverviewLine[]> {
  const release = await db.releases.get(kind.hash);
  if (release === undefined) return [];
  const answers: Record<string, Json> = {};
  for (const { id, variable } of await fieldsOf(kind.hash))
    if (unit.answers[id] !== undefined) answers[variable] = unit.answers[id] as Json;
  const engine = theEngine();
  const name = `unit ${unit.unit}`;
  await engine.call('loadRelease', release.hash, release.compiled);
  const spoken = release.languages.includes(language) ? language : (release.languages[0] ?? 'en');
  await engine.call(
    'open',
    name,
    release.hash,
    { answers, kept: {}, language: spoken },
    { now: momentHere(), 'enumerator.name': '' },
  );
  const lines = await engine.call('overview', name, true);
  await engine.call('close', name);
  const hidden = await hiddenPaths(kind.id);
  return lines.filter((line) => line.kind !== 'statement' && !hidden.has(line.path));
}

/** Why a unit is no longer there. */
function Closing({ onClose, onLeave }: { onClose: (why: string) => void; onLeave: () => void }) {
  const { t } = useTexts();
  const [why, setWhy] = useState('');
  const [busy, setBusy] = useState(false);
  return (
    <form
      className="what-happened padded-form"
      onSubmit={(event) => {
        event.preventDefault();
        setBusy(true);
        onClose(why.trim());
      }}
    >
      <p>{t('noLongerThereMeans')}</p>
      <label>
        {t('whyClosed')}
        <input
          className="typed"
          dir="auto"
          autoFocus
          maxLength={1000}
          value={why}
          onChange={(event) => {
            setWhy(event.target.value);
          }}
        />
      </label>
      <div className="action-row">
        <button type="submit" className="wide-button" disabled={busy || why.trim() === ''}>
          {t('closeIt')}
        </button>
        <button type="button" className="wide-button secondary" onClick={onLeave}>
          {t('close')}
        </button>
      </div>
    </form>
  );
}
