// The same unit interviewed twice? Pairs of interviews that are nearly the same, decided with keys into the plan.
import { useQuery } from '@tanstack/react-query';
import { Alert, Button, Select } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useVariables, variableChoices } from '../data';
import { HOW } from '../combine/outside';
import { PairSheet, useLetters, Verdicts } from '../combine/pairs';
import '../combine/combine.css';
import { useMoments } from '../../ui/moments';
import { Empty, Loaded, messageOf, stateWords } from '../../ui/states';
import { useMay, useQuestionnaireId, useStudy } from '../../ui/study';
import { t } from '../../texts/texts';
import { acts, useAct, usePlan } from './plan';

type Search = Schemas['CopiesSearch'];
type How = Search['compare'][string];
type Found = Schemas['CopiesOut'];
type Pair = Schemas['NearCopyOut'];

const HOW_BY_MEASURE: Record<string, How> = { text: 'text', date: 'date', number: 'whole', code: 'exact' };

export default function CopiesPage() {
  const id = useQuestionnaireId();
  return id === null ? null : <Searching key={id} id={id} />;
}

function Searching({ id }: { id: number }) {
  const [search, setSearch] = useState<Search | null>(null);
  const found = useQuery({
    queryKey: ['data', id, 'copies', search],
    queryFn: () =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/plan/copies/search', {
          params: { path: { questionnaire_id: id } },
          body: { search },
        }),
      ),
    placeholderData: (before) => before,
    retry: false,
  });
  return (
    <Loaded query={found}>
      {(copies) => (
        <>
          {found.error && <Alert type="error" showIcon title={messageOf(found.error)} />}
          <Deciding id={id} copies={copies} onSearch={setSearch} />
        </>
      )}
    </Loaded>
  );
}

const keyOf = (pair: Pair) => `${pair.one} ${pair.other}`;

function Deciding({ id, copies, onSearch }: { id: number; copies: Found; onSearch: (search: Search) => void }) {
  const study = useStudy();
  const mayWrite = useMay()('clean.write');
  const plan = usePlan(id);
  const act = useAct(id);
  const [chosen, setChosen] = useState<string | null>(null);
  const at = Math.max(
    0,
    copies.pairs.findIndex((pair) => keyOf(pair) === chosen),
  );
  const pair = copies.pairs[at] ?? null;
  const later = () => {
    const after = copies.pairs[(at + 1) % Math.max(1, copies.pairs.length)];
    if (after !== undefined) setChosen(keyOf(after));
  };
  const say = (decided: 'same' | 'apart', kept: 'one' | 'other' = 'one') => {
    if (pair === null || !mayWrite) return;
    const after = copies.pairs[at + 1] ?? null;
    act(
      () =>
        ask(
          api.POST('/api/questionnaires/{questionnaire_id}/plan/copies', {
            params: { path: { questionnaire_id: id } },
            body: { one: pair.one, other: pair.other, decided, kept },
          }),
        ),
      () => {
        setChosen(after === null ? null : keyOf(after));
      },
    );
  };
  const undo = () => {
    const state = plan.data?.state;
    if (mayWrite && state !== undefined && plan.data?.undoes != null) act(() => acts.undo(id, state));
  };
  const verdicts =
    pair === null
      ? []
      : [
          {
            letter: 'M',
            words: t('clean.sameKeep', { interview: pair.one }),
            say: () => {
              say('same');
            },
          },
          {
            letter: 'N',
            words: t('clean.sameKeep', { interview: pair.other }),
            say: () => {
              say('same', 'other');
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
  return (
    <div className="matches">
      <section className="matches-list">
        <div className="matches-head">
          <h2>
            <Link to={`/studies/${String(study.id)}/clean`}>{t('common.clean')}</Link>{' '}
            <span className="muted">{t('clean.sameInterviewTwice')}</span>
          </h2>
          <p className="small muted">
            {t('clean.copiesLooked', { count: copies.looked_at, decided: copies.decided })}
            {copies.more > 0 && ` ${t('clean.copiesMore', { count: copies.more })}`}
          </p>
          <SearchForm key={JSON.stringify(copies.search)} id={id} search={copies.search} onSearch={onSearch} />
        </div>
        <ul>
          {copies.pairs.map((one) => (
            <li key={keyOf(one)}>
              <button
                type="button"
                aria-current={one === pair}
                onClick={() => {
                  setChosen(keyOf(one));
                }}
              >
                <span className="clip">{one.called[0]}</span>
                <span className="n">{one.bits.toFixed(1)}</span>
                <span className="small muted clip">{one.called[1]}</span>
                <span className="small muted mono n">
                  {one.one} · {one.other}
                </span>
              </button>
            </li>
          ))}
        </ul>
      </section>
      <section className="matches-pair">
        {copies.problem !== '' && <Alert type="warning" showIcon title={copies.problem} />}
        {pair === null ? (
          <Empty title={copies.problem === '' ? t('clean.noCopies') : t('clean.copiesNotSearched')}>
            {t('clean.noCopiesMean')}
          </Empty>
        ) : (
          <>
            <div className="row">
              <h1>{t('clean.sameUnit')}</h1>
              <span className="muted">{t('combine.oneOf', { at: at + 1, of: copies.pairs.length })}</span>
            </div>
            <PairTable pair={pair} prior={copies.prior} studyId={study.id} />
            {mayWrite && <Verdicts verdicts={verdicts} />}
            <p className="small muted">{t('clean.copiesMean')}</p>
          </>
        )}
      </section>
      <div className="status">
        <span>{t('clean.copiesKeys')}</span>
      </div>
    </div>
  );
}

function PairTable({ pair, prior, studyId }: { pair: Pair; prior: number; studyId: number }) {
  const { dayAndTime } = useMoments();
  const interview = (key: string, made: Pair['made'][number] | undefined) => (
    <>
      {t('common.interview')}{' '}
      <Link className="mono" to={`/studies/${String(studyId)}/interviews?keys=${key}`}>
        {key}
      </Link>
      {made && (
        <div className="small muted">
          {made.started != null && <div>{dayAndTime(made.started)}</div>}
          <div>{[made.enumerator, stateWords(made.state)].filter((words) => words !== '').join(' · ')}</div>
        </div>
      )}
    </>
  );
  return (
    <PairSheet
      left={interview(pair.one, pair.made[0])}
      right={interview(pair.other, pair.made[1])}
      parts={pair.parts.map((part) => ({ ...part, name: part.variable, left: part.one, right: part.other }))}
      most={Math.max(...pair.parts.map((part) => Math.abs(part.bits)), 1)}
      prior={prior}
      priorMeans={t('clean.copiesPrior')}
      total={pair.bits}
      chance={pair.chance}
    />
  );
}

/** Which variables are compared; those that are ticked first bring interviews together. */
function SearchForm({ id, search, onSearch }: { id: number; search: Search | null; onSearch: (s: Search) => void }) {
  const variables = useVariables(id);
  const [names, setNames] = useState<string[]>(Object.keys(search?.compare ?? {}));
  const [blocks, setBlocks] = useState<string[]>((search?.blocks ?? []).map((block) => block.join('+')));
  const own = (variables.data ?? []).filter((v) => v.table === 'interviews' && v.measure in HOW_BY_MEASURE);
  const howOf = (name: string): How =>
    search?.compare[name] ?? HOW_BY_MEASURE[own.find((v) => v.variable === name)?.measure ?? ''] ?? 'text';
  const fitting = blocks.filter((block) => block.split('+').every((name) => names.includes(name)));
  const told = (block: string) => block.split('+').map((name) => `${name} · ${HOW[howOf(name)] ?? ''}`);
  // One that agrees, or two that agree at once: where too many pairs agree in one.
  const pairs = names.flatMap((one, at) => names.slice(at + 1).map((other) => `${one}+${other}`));
  return (
    <div className="copies-form">
      <label>
        {t('clean.copiesCompared')}
        <Select
          mode="multiple"
          size="small"
          value={names}
          options={variableChoices(own)}
          showSearch={{ optionFilterProp: 'label' }}
          onChange={setNames}
        />
      </label>
      <label>
        {t('clean.copiesBlocks')}
        <Select
          mode="multiple"
          size="small"
          value={fitting}
          options={[...names, ...pairs].map((value) => ({ value, label: told(value).join(' + ') }))}
          showSearch={{ optionFilterProp: 'label' }}
          onChange={setBlocks}
        />
      </label>
      <Button
        size="small"
        disabled={names.length === 0 || fitting.length === 0}
        onClick={() => {
          onSearch({
            compare: Object.fromEntries(names.map((name) => [name, howOf(name)])),
            blocks: fitting.map((block) => block.split('+')),
            above: search?.above ?? 0,
          });
        }}
      >
        {t('clean.copiesSearch')}
      </Button>
    </div>
  );
}
