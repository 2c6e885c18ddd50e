import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { theEngine } from '../../shared/engine/client';
import type { ExerciseDifference, Finding } from '../../shared/engine/types';
import { directionOf } from '../../shared/interview/languages';
import { textsIn } from '../../shared/interview/texts';
import { outcomeWords, type Outcome } from '../../shared/map/outcomes';
import type { AboutUnit } from '../store/db';
import { packInterview } from '../store/interviews';
import { useFrame } from '../store/day';
import { readInterview } from '../store/kept';
import { useSync } from '../store/syncContext';
import { TROUBLES, troubleOf } from '../store/troubles';
import { useTexts, type FieldText } from '../texts/texts';

interface Props {
  uuid: string;
  language: string;
  practice: boolean;
  /** The unit that is changed, where it is no interview: what is doubtful about it is kept and told. */
  unit: AboutUnit | undefined;
  onGo: (path: string) => void;
  onBack: () => void;
  /** An exercise was packed: what was entered otherwise. */
  onPractised: (differences: ExerciseDifference[]) => void;
}

/** The end of an interview: what is still to mend, and packing it. */
export function Finish({ uuid, language, practice, unit, onGo, onBack, onPractised }: Props) {
  const [findings, setFindings] = useState<Finding[] | null>(null);
  const [asked, setAsked] = useState<Record<string, string>>({});
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<FieldText | ''>('');
  const navigate = useNavigate();
  const [params] = useSearchParams();
  const sync = useSync();
  const t = textsIn(language);
  const { t: own, language: spoken } = useTexts();
  const open = findings?.filter((f) => f.kept === '') ?? [];
  const isKept = unit !== undefined && findings?.length === 0;
  const { outcomes, visited } = useOutcomes(uuid);
  const [outcome, setOutcome] = useState('');

  const pack = async (unfinished: string) => {
    setBusy(true);
    try {
      const differences = await packInterview(uuid, unfinished, outcome);
      void sync.run();
      if (unit !== undefined) void navigate(afterUnit(unit, params), { replace: true });
      else if (differences === null) void navigate('/');
      else onPractised(differences);
    } catch (error) {
      console.error(error);
      setProblem(TROUBLES[troubleOf(error)]);
      setBusy(false);
    }
  };

  useEffect(() => {
    theEngine()
      .call('findings', uuid)
      .then(async (found) => {
        setFindings(found);
        // A unit about which nothing is doubtful is kept without another word.
        if (unit !== undefined && found.length === 0) await pack('');
        else setAsked(await questionsOf(uuid, found));
      })
      .catch(() => {
        setProblem('notLookedThrough');
      });
    // Looked through once for each.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [uuid]);

  return (
    <div className="fill" dir={directionOf(language)} lang={language}>
      <div className="fill-progress">
        <div style={{ width: '100%' }} />
      </div>
      <header className="fill-head">
        <button type="button" aria-label={t('back')} onClick={onBack}>
          ‹
        </button>
        <span className="fill-place">{t('finish')}</span>
      </header>
      <main className="fill-body">
        {practice && <p className="practice">{own('practice')}</p>}
        {findings !== null && open.length === 0 && !isKept && (
          <h1 className="question-wording">{t('nothingToMend')}</h1>
        )}
        {open.length > 0 && (
          <h1 className="question-wording">
            {t('toMend')}: {open.length}
          </h1>
        )}
        {open.map((f) => (
          <button
            key={`${f.path}#${f.code}${String(f.check)}`}
            type="button"
            className="line boxed"
            onClick={() => {
              onGo(f.path);
            }}
          >
            <span className="line-text">
              <b>{f.message}</b>
              <span>{asked[f.path]}</span>
            </span>
            <span className="line-side">›</span>
          </button>
        ))}
        {visited && (
          <label className="visit-ends">
            {own('visitEndsAs')}
            <select
              className="typed"
              value={outcome === '' ? (outcomes[0]?.code ?? '') : outcome}
              onChange={(event) => {
                setOutcome(event.target.value);
              }}
            >
              {outcomes.map((one) => (
                <option key={one.code} value={one.code}>
                  {outcomeWords(outcomes, one.code, spoken)}
                </option>
              ))}
            </select>
          </label>
        )}
        {problem !== '' && (
          <p className="note must" role="alert">
            {own(problem)}
          </p>
        )}
        {open.length > 0 && unit === undefined && (
          <Unfinished
            label={t('packUnfinished')}
            why={t('packUnfinishedWhy')}
            pack={t('pack')}
            onPack={(why) => void pack(why)}
          />
        )}
      </main>
      <footer className="fill-foot">
        <button type="button" className="back" aria-label={t('back')} onClick={onBack}>
          ‹
        </button>
        <button
          type="button"
          className="next wide"
          disabled={busy || findings === null || (open.length > 0 && unit === undefined)}
          onClick={() => void pack('')}
        >
          {unit === undefined ? t('pack') : own('keepUnit')}
        </button>
      </footer>
    </div>
  );
}

/** Where one goes on once a unit is kept: to it, or to the question that it answers. */
function afterUnit(unit: AboutUnit, params: URLSearchParams): string {
  const [then, at] = [params.get('then'), params.get('at')];
  if (then === null || at === null) return `/units/${unit.identity}`;
  return `/interviews/${then}?${new URLSearchParams({ made: unit.identity, at }).toString()}`;
}

/** The outcomes with which a visit may end that this interview was begun on; whole interviews first. */
function useOutcomes(uuid: string) {
  const frame = useFrame();
  const interview = useLiveQuery(() => readInterview(uuid), [uuid]);
  const visited = interview?.visited !== undefined && interview.correction === undefined && interview.practice === 0;
  const outcomes = [...(frame?.outcomes ?? [])].filter((one) => !one.names_moment);
  const rank = (one: Outcome) => ['interview', 'partial'].indexOf(one.counts_as) >>> 0;
  return { outcomes: outcomes.sort((a, b) => rank(a) - rank(b)), visited: visited && frame !== undefined };
}

/** An interview that broke off is packed with the reason, so that nobody is stuck with it. */
function Unfinished({
  label,
  why,
  pack,
  onPack,
}: {
  label: string;
  why: string;
  pack: string;
  onPack: (why: string) => void;
}) {
  const [reason, setReason] = useState<string | null>(null);
  if (reason === null)
    return (
      <button
        type="button"
        className="plain-button"
        onClick={() => {
          setReason('');
        }}
      >
        {label} …
      </button>
    );
  return (
    <form
      className="note should"
      onSubmit={(event) => {
        event.preventDefault();
        onPack(reason.trim());
      }}
    >
      <label>
        {why}
        <input
          className="typed"
          value={reason}
          autoFocus
          dir="auto"
          onChange={(event) => {
            setReason(event.target.value);
          }}
        />
      </label>
      <button type="submit" disabled={reason.trim() === ''}>
        {pack}
      </button>
    </form>
  );
}

const MOST_NAMED = 50;

/** What is asked where something is to mend, by path. */
async function questionsOf(uuid: string, found: Finding[]): Promise<Record<string, string>> {
  const paths = [...new Set(found.map((finding) => finding.path))].slice(0, MOST_NAMED);
  const screens = await Promise.all(paths.map((path) => theEngine().call('show', uuid, path)));
  return Object.fromEntries(
    screens.map((screen, at) => [paths[at] ?? '', screen.wording.map((piece) => piece.text).join('')]),
  );
}
