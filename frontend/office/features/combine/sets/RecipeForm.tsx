// A recipe being written: its parts at the left, what it makes at the right, kept when it is said.
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Alert, Button, Checkbox, Input, Select } from 'antd';
import { useState } from 'react';
import { api, ask } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { HowFar, isBeingPrepared, messageOf } from '../../../ui/states';
import { useStudy } from '../../../ui/study';
import { keyOfSets, type NamedSet, type SetSource } from '../../dataSets';
import { DerivedLines, LeftOutLines, TurnLines } from './Lines';
import { MadeView } from './MadeView';
import { Sources } from './Sources';
import { titleOf, useTried, written, wrongIn, type Recipe } from './recipe';

interface Props {
  /** The one that is changed, null for a new one. */
  set: NamedSet | null;
  beginning: { title: string; recipe: Recipe };
  sources: SetSource[];
  onKept: (id: number) => void;
}

export function RecipeForm({ set: shown, beginning: begun, sources, onKept }: Props) {
  // What somebody else keeps meanwhile takes nothing away that is being written: keeping it says that it has changed.
  const [{ set, beginning }] = useState({ set: shown, beginning: begun });
  const study = useStudy();
  const queries = useQueryClient();
  const [title, setTitle] = useState(beginning.title);
  const [recipe, setRecipe] = useState(beginning.recipe);
  const tried = useTried(recipe);
  const made = tried.last;
  const wrong = wrongIn(tried.error);
  const keep = useMutation({
    mutationFn: () => {
      const body = { title: title.trim(), recipe: written(recipe) };
      return set === null
        ? ask(api.POST('/api/studies/{study_id}/data-sets', { params: { path: { study_id: study.id } }, body }))
        : ask(
            api.PUT('/api/data-sets/{data_set_id}', {
              params: { path: { data_set_id: set.id } },
              body: { ...body, version: set.version },
            }),
          );
    },
    onSuccess: async (kept) => {
      await queries.invalidateQueries({ queryKey: keyOfSets(study.id) });
      await queries.invalidateQueries({ queryKey: ['data set', kept.id] });
      onKept(kept.id);
    },
  });
  const changed =
    set === null || title !== beginning.title || JSON.stringify(recipe) !== JSON.stringify(beginning.recipe);
  const titles = recipe.sources.map((one) => titleOf(one, sources));
  const parts = { recipe, made, wrong, onChange: setRecipe };
  return (
    <form
      className="set-form"
      onSubmit={(event) => {
        event.preventDefault();
        if (!keep.isPending && title.trim() !== '' && changed) keep.mutate();
      }}
    >
      <div>
        <label className="set-title">
          <span className="detail-label">{t('sets.title')}</span>
          <Input
            value={title}
            maxLength={200}
            placeholder={t('sets.titleExample')}
            autoFocus={set === null}
            onChange={(event) => {
              setTitle(event.target.value);
            }}
          />
        </label>
        <Sources {...parts} sources={sources} />
        <Checkbox
          checked={recipe.accepted_only}
          onChange={(event) => {
            setRecipe({ ...recipe, accepted_only: event.target.checked });
          }}
        >
          {t('sets.acceptedOnly')}
        </Checkbox>
        <DerivedLines {...parts} />
        <LeftOutLines {...parts} />
        <TurnLines {...parts} />
        <section>
          <h3>{t('sets.rowsAre')}</h3>
          <Select
            aria-label={t('sets.rowsAre')}
            className="set-rows"
            value={recipe.rows}
            options={(made?.places ?? [recipe.rows]).map((name) => ({
              value: name,
              label: name === 'interviews' ? t('sets.interviewsWithRosters') : t('sets.rowsOf', { name }),
            }))}
            onChange={(rows: string) => {
              setRecipe({ ...recipe, rows });
            }}
          />
        </section>
      </div>
      <aside className="set-side">
        <h3>{t('sets.makes')}</h3>
        {isBeingPrepared(tried.error) && <HowFar problem={tried.error} />}
        {tried.error !== null && wrong === null && !isBeingPrepared(tried.error) && (
          <Alert type="error" showIcon title={messageOf(tried.error)} />
        )}
        {tried.error && wrong !== null && <p className="bad small">{t('sets.lineDoesNotFit')}</p>}
        {made && !tried.error && made.clashes.length > 0 && (
          <p className="bad small">{t('sets.clashes', { count: made.clashes.length })}</p>
        )}
        {made && !tried.error && made.clashes.length === 0 && (
          <MadeView made={made} recipe={written(recipe)} titles={titles} />
        )}
        {!made && tried.isFetching && <p className="muted small">{t('sets.trying')}</p>}
        {keep.error && <Alert type="error" showIcon title={messageOf(keep.error)} />}
        <Button
          type="primary"
          htmlType="submit"
          block
          loading={keep.isPending}
          disabled={title.trim() === '' || !changed || tried.error !== null || (made?.clashes.length ?? 0) > 0}
        >
          {set === null ? t('sets.keepNew') : t('sets.keepChanged')}
        </Button>
      </aside>
    </form>
  );
}
