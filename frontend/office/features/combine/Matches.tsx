// The same unit in two tables? Pairs that likeness leaves in doubt, read part by part and decided with keys.
import { useQueryClient } from '@tanstack/react-query';
import { Alert, Segmented } from 'antd';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { useMoments } from '../../ui/moments';
import { Empty, Loaded, messageOf } from '../../ui/states';
import { useMay, useQuestionnaireId, useStudy } from '../../ui/study';
import { t } from '../../texts/texts';
import './combine.css';
import { keyOf, useDeciding, useMatches, usePair, type Matches, type Pair } from './matches';
import { useLetters, Verdicts } from './pairs';
import { Beside, PairView } from './PairView';
import { Scores } from './Scores';

export default function MatchesPage() {
  const id = useQuestionnaireId();
  const outsideId = Number(useParams().outsideId);
  const matches = useMatches(id ?? 0, outsideId);
  return id === null ? null : <Loaded query={matches}>{(found) => <Deciding id={id} matches={found} />}</Loaded>;
}

const LISTS = ['doubtful', 'found', 'decided'] as const;
type List = (typeof LISTS)[number];

function Deciding({ id, matches }: { id: number; matches: Matches }) {
  const study = useStudy();
  const mayWrite = useMay()('combine.write');
  const queries = useQueryClient();
  const outsideId = matches.outside_id;
  const deciding = useDeciding(id, outsideId, matches);
  const [list, setList] = useState<List>('doubtful');
  const [chosen, setChosen] = useState<string | null>(null);
  const pairs: Pair[] = list === 'found' ? matches.found : deciding.open;
  const at = Math.max(
    0,
    pairs.findIndex((pair) => keyOf(pair) === chosen),
  );
  const pair = list === 'decided' ? null : (pairs[at] ?? null);
  const next = pairs[at + 1] ?? pairs[at - 1] ?? null;
  const parts = usePair(id, outsideId, pair);
  // The next one is there when it is come to.
  usePair(id, outsideId, next);
  const last = matches.decided[0];

  const say = (verdict: 'same' | 'apart') => {
    // Nobody decides what has not been shown yet.
    if (pair === null || parts.data === undefined || !mayWrite) return;
    const after = pairs.slice(at + 1).find((other) => verdict === 'apart' || other.place !== pair.place) ?? null;
    deciding.say(pair, verdict);
    setChosen(after === null ? null : keyOf(after));
  };
  const later = () => {
    const after = pairs[(at + 1) % Math.max(1, pairs.length)];
    if (after !== undefined) setChosen(keyOf(after));
  };
  const undo = () => {
    if (last !== undefined && mayWrite && !deciding.isBusy) deciding.takeBack(last.id);
  };
  const verdicts = [
    {
      letter: 'M',
      words: t('combine.sayTheSame'),
      say: () => {
        say('same');
      },
    },
    {
      letter: 'A',
      words: t('combine.sayNotTheSame'),
      say: () => {
        say('apart');
      },
    },
    { letter: 'S', words: t('combine.sayLater'), say: later },
  ];
  useLetters([...verdicts, { letter: 'U', say: undo }]);
  const words: Record<List, string> = {
    doubtful: t('combine.listDoubtful', { count: deciding.open.length }),
    found: t('combine.listFound', { count: matches.matched + matches.same }),
    decided: t('combine.listDecided', { count: matches.decided.length }),
  };
  return (
    <div className="matches">
      <section className="matches-list">
        <div className="matches-head">
          <h2>
            <Link to={`/studies/${String(study.id)}/combine?table=${String(outsideId)}`}>{matches.name}</Link>{' '}
            <span className="muted">{t('combine.toInterviews')}</span>
          </h2>
          <p className="small muted">
            {t('combine.nearBy', {
              compared: matches.near.compare.map((one) => one.ours).join(', '),
              blocks: matches.near.blocks.map((block) => block.join(' + ')).join(', '),
            })}
          </p>
          <Scores
            key={`${String(matches.near.apart)} ${String(matches.near.match)}`}
            id={id}
            matches={matches}
            disabled={!mayWrite}
            onKept={() => void queries.invalidateQueries({ queryKey: ['data', id] })}
          />
          <p className="small">
            {t('combine.standing', {
              byKey: matches.by_key,
              alike: matches.matched + matches.same,
              without: matches.without,
            })}
          </p>
          <Segmented<List>
            block
            size="small"
            value={list}
            options={LISTS.map((value) => ({ value, label: words[value] }))}
            onChange={(value) => {
              setList(value);
              setChosen(null);
            }}
          />
        </div>
        {list === 'decided' ? (
          <Decided matches={matches} onUndo={mayWrite ? deciding.takeBack : null} />
        ) : (
          <ul className="pane-body">
            {pairs.map((one) => (
              <PairLine
                key={keyOf(one)}
                pair={one}
                here={one === pair}
                onChoose={() => {
                  setChosen(keyOf(one));
                }}
              />
            ))}
          </ul>
        )}
      </section>
      <section className="matches-pair">
        {deciding.error && <Alert type="error" showIcon title={messageOf(deciding.error)} />}
        {pair === null ? (
          <Empty title={list === 'decided' ? t('combine.whatWasDecided') : t('combine.nothingInDoubt')}>
            {list === 'decided' ? t('combine.decidedMeans') : t('combine.nothingInDoubtMeans')}
          </Empty>
        ) : (
          <>
            <div className="row">
              <h1>{t('combine.theSame')}</h1>
              <span className="muted">{t('combine.oneOf', { at: at + 1, of: pairs.length })}</span>
              {pair.before !== '' && (
                <span className="doubt">
                  {pair.before === 'same' ? t('combine.beforeSame') : t('combine.beforeApart')}
                </span>
              )}
              <span className="grow" />
              <span className="small muted">{t('combine.learntFrom', { count: matches.near.learnt?.pairs ?? 0 })}</span>
            </div>
            <Loaded query={parts}>
              {(read) => <PairView table={matches.name} pair={pair} parts={read} studyId={study.id} />}
            </Loaded>
            {mayWrite && (
              <Verdicts verdicts={verdicts}>
                <span className="small muted">{t('combine.decidedOnce')}</span>
              </Verdicts>
            )}
            {parts.data && <Beside table={matches.name} parts={parts.data} />}
          </>
        )}
      </section>
      <div className="status">
        <span>{t('combine.keys')}</span>
        <span className="grow" />
        {last !== undefined && (
          <span>
            {t('combine.lastDecided', { ours: last.ours, theirs: last.theirs })}{' '}
            {mayWrite && (
              <button type="button" className="plain-link" onClick={undo}>
                {t('common.undo')}
              </button>
            )}
          </span>
        )}
      </div>
    </div>
  );
}

function PairLine({ pair, here, onChoose }: { pair: Pair; here: boolean; onChoose: () => void }) {
  return (
    <li>
      <button type="button" aria-current={here} onClick={onChoose}>
        <span className="clip">{pair.theirs}</span>
        <span className="n">{pair.score.toFixed(1)}</span>
        <span className="small muted clip">
          {pair.ours} · <span className="mono">{pair.place}</span>
        </span>
        <span className="small muted n">{pair.rivals > 0 ? t('combine.rivals', { count: pair.rivals }) : ''}</span>
      </button>
    </li>
  );
}

function Decided({ matches, onUndo }: { matches: Matches; onUndo: ((decision: number) => void) | null }) {
  const { dayAndTime } = useMoments();
  return (
    <ul className="pane-body">
      {matches.decided.map((one) => (
        <li key={one.id} className="decided-line">
          <span className="clip">
            {one.theirs} {one.decided === 'same' ? '=' : '≠'} {one.ours} · <span className="mono">{one.place}</span>
          </span>
          {onUndo !== null && (
            <button
              type="button"
              className="plain-link"
              onClick={() => {
                onUndo(one.id);
              }}
            >
              {t('common.undo')}
            </button>
          )}
          <span className="small muted">{t('common.madeBy', { when: dayAndTime(one.at), who: one.by })}</span>
        </li>
      ))}
    </ul>
  );
}
