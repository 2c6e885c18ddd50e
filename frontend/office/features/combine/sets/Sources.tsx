// Where the rows of a data set come from: questionnaires, or rounds of them, one under the other.
import { useMutation } from '@tanstack/react-query';
import { Alert, Button, Input, Select } from 'antd';
import { useState } from 'react';
import { api, ask } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';
import { useStudy } from '../../../ui/study';
import type { SetSource } from '../../dataSets';
import { Mapping } from './Mapping';
import { put, sourceOf, without, type Made, type Only, type Pairing, type Recipe, type Source } from './recipe';

interface Props {
  recipe: Recipe;
  sources: SetSource[];
  made: Made | null;
  onChange: (change: (recipe: Recipe) => Recipe) => void;
}

export function Sources({ recipe, sources, made, onChange }: Props) {
  const first = sources[0];
  return (
    <section>
      <h3>{t('sets.sources')}</h3>
      {recipe.sources.map((source, at) => (
        <SourceCard
          key={at}
          at={at}
          recipe={recipe}
          source={source}
          sources={sources}
          made={made}
          onChange={(next) => {
            onChange((now) => ({ ...now, sources: put(now.sources, at, next) }));
          }}
          onRemove={
            recipe.sources.length > 1
              ? () => {
                  onChange((now) => ({ ...now, sources: without(now.sources, at) }));
                }
              : null
          }
        />
      ))}
      {first && (
        <Button
          size="small"
          onClick={() => {
            const next = sources.find((one) => recipe.sources.every((s) => s.questionnaire !== one.questionnaire));
            onChange((now) => ({ ...now, sources: [...now.sources, sourceOf((next ?? first).questionnaire)] }));
          }}
        >
          {t('sets.addSource')}
        </Button>
      )}
    </section>
  );
}

function SourceCard({
  at,
  recipe,
  source,
  sources,
  made,
  onChange,
  onRemove,
}: {
  at: number;
  recipe: Recipe;
  source: Source;
  sources: SetSource[];
  made: Made | null;
  onChange: (source: Source) => void;
  onRemove: (() => void) | null;
}) {
  const study = useStudy();
  const [pairings, setPairings] = useState<Pairing[] | null>(null);
  const propose = useMutation({
    mutationFn: (changed: Source) =>
      ask(
        api.POST('/api/studies/{study_id}/data-sets/propose', {
          params: { path: { study_id: study.id } },
          body: { sources: [...recipe.sources.slice(0, at), changed] },
        }),
      ),
    onSuccess: (found, changed) => {
      // What somebody said already is shown beside what is found; only a second wish replaces it.
      const isSaid = pairings === null && (!isEmpty(changed.names) || !isEmpty(changed.codes));
      setPairings(found.pairings);
      if (!isSaid) onChange({ ...changed, names: found.names, codes: found.codes });
    },
  });
  const saidBefore = !isEmpty(source.names) || !isEmpty(source.codes);
  const known = sources.find((one) => one.questionnaire === source.questionnaire);
  const clashes = made?.clashes.filter((clash) => clash.place === at) ?? [];
  const several = recipe.sources.length > 1;
  const choices = choicesOf(sources);
  const outside = known?.outside.find((one) => one.id === source.outside);
  const isAnother = recipe.sources.slice(0, at).some((one) => keyOf(one) !== keyOf(source));
  return (
    <div className="set-source">
      <div className="row">
        {several && <span className="set-number">{at + 1}</span>}
        <Select
          aria-label={t('sets.questionnaire')}
          className="grow"
          value={keyOf(source)}
          options={choices}
          onChange={(value: string) => {
            const chosen = choices.flatMap((group) => group.options).find((one) => one.value === value);
            if (chosen === undefined) return;
            setPairings(null);
            onChange({ ...chosen.of, called: source.called });
          }}
        />
        {several && (
          <Input
            className="set-called"
            aria-label={t('sets.calledSource')}
            placeholder={t('sets.calledSource')}
            value={source.called}
            maxLength={200}
            onChange={(event) => {
              onChange({ ...source, called: event.target.value });
            }}
          />
        )}
        {onRemove && (
          <Button size="small" type="text" aria-label={t('sets.removeSource', { number: at + 1 })} onClick={onRemove}>
            ×
          </Button>
        )}
      </div>
      {source.outside === null ? (
        <div className="row set-narrow">
          <Select
            mode="multiple"
            size="small"
            aria-label={t('sets.releases')}
            placeholder={t('sets.allReleases')}
            value={source.releases}
            options={(known?.releases ?? []).map((number) => ({ value: number, label: t('sets.release', { number }) }))}
            onChange={(releases: number[]) => {
              onChange({ ...source, releases });
            }}
          />
          <label className="small">
            {t('sets.since')}{' '}
            <Input
              size="small"
              type="date"
              value={source.since ?? ''}
              onChange={(event) => {
                onChange({ ...source, since: event.target.value === '' ? null : event.target.value });
              }}
            />
          </label>
          <label className="small">
            {t('sets.until')}{' '}
            <Input
              size="small"
              type="date"
              value={source.until ?? ''}
              onChange={(event) => {
                onChange({ ...source, until: event.target.value === '' ? null : event.target.value });
              }}
            />
          </label>
          {study.rounds.length > 0 && (
            <Select
              size="small"
              aria-label={t('sets.round')}
              placeholder={t('sets.round')}
              value={null}
              options={study.rounds.map((one, place) => ({ value: place, label: one.name }))}
              onChange={(place: number | null) => {
                const round = place === null ? undefined : study.rounds[place];
                const next = place === null ? undefined : study.rounds[place + 1];
                if (round)
                  onChange({
                    ...source,
                    called: source.called === '' ? round.name : source.called,
                    since: round.begins,
                    until: next ? dayBefore(next.begins) : null,
                  });
              }}
            />
          )}
        </div>
      ) : (
        <div className="row set-narrow">
          <Select<Only>
            size="small"
            aria-label={t('sets.whichRows')}
            value={source.only}
            options={[
              { value: 'all', label: t('sets.rowsAll') },
              { value: 'nobody', label: t('sets.rowsOfNobody'), disabled: outside?.is_joined !== true },
            ]}
            onChange={(only) => {
              onChange({ ...source, only });
            }}
          />
          {made?.narrowed[at] && (
            <span className="small muted">{t('sets.rowsTaken', { count: made.narrowed[at].kept })}</span>
          )}
        </div>
      )}
      {isAnother && (
        <div className="set-under">
          <div className="row">
            <span className="small">{t('sets.goesUnder')}</span>
            <span className="grow" />
            <Button
              size="small"
              loading={propose.isPending}
              onClick={() => {
                propose.mutate(source);
              }}
            >
              {pairings !== null ? t('sets.proposeAgain') : saidBefore ? t('sets.showMapping') : t('sets.propose')}
            </Button>
          </div>
          {propose.error && <Alert type="error" showIcon title={messageOf(propose.error)} />}
          {pairings && (
            <Mapping
              source={source}
              pairings={pairings}
              known={made?.variables.map((one) => one.variable) ?? []}
              onChange={onChange}
            />
          )}
        </div>
      )}
      {clashes.slice(0, MOST_CLASHES).map((clash) => (
        <p className="bad small" key={`${clash.variable} ${clash.code}`}>
          {clash.words}
        </p>
      ))}
      {clashes.length > MOST_CLASHES && (
        <p className="bad small">{t('sets.moreClashes', { count: clashes.length - MOST_CLASHES })}</p>
      )}
    </div>
  );
}

const MOST_CLASHES = 6;

/** What is chosen as a source: a questionnaire, or a table from elsewhere beside it. */
const keyOf = (source: Source): string => `${String(source.questionnaire)} ${String(source.outside ?? '')}`;

interface Choice {
  value: string;
  label: string;
  of: Source;
}

const choiceOf = (of: Source, label: string): Choice => ({ value: keyOf(of), label, of });

/** Questionnaires, then tables from elsewhere; of one that is joined those of nobody, for the others are there already. */
function choicesOf(sources: SetSource[]): { label: string; options: Choice[] }[] {
  const asked = sources.map((one) => choiceOf(sourceOf(one.questionnaire), one.title));
  const outside = sources.flatMap((one) =>
    one.outside.map((table) =>
      choiceOf(sourceOf(one.questionnaire, table.id, table.is_joined ? 'nobody' : 'all'), table.name),
    ),
  );
  const groups = [{ label: t('sets.questionnaires'), options: asked }];
  return outside.length > 0 ? [...groups, { label: t('sets.outsideTables'), options: outside }] : groups;
}

const isEmpty = (said: object): boolean => Object.keys(said).length === 0;

function dayBefore(day: string): string {
  const before = new Date(`${day}T00:00:00Z`);
  before.setUTCDate(before.getUTCDate() - 1);
  return before.toISOString().slice(0, 10);
}
