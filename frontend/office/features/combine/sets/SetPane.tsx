// One data set: what it is made of and what is in it.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { App, Button, Segmented } from 'antd';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { api, ask } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { Loaded, messageOf } from '../../../ui/states';
import { useMay, useStudy } from '../../../ui/study';
import { DATA, keyOfSets, type NamedSet, type SetSource } from '../../dataSets';
import { MadeView } from './MadeView';
import { RecipeForm } from './RecipeForm';
import { SetRows } from './SetRows';
import { sourceOf, titleOf, type Recipe } from './recipe';

const blank = (questionnaire: number): Recipe => ({
  sources: [sourceOf(questionnaire)],
  accepted_only: false,
  derived: [],
  left_out: [],
  turned: [],
  rows: 'interviews',
});

/** A data set that is still to be written; `from` is one whose recipe it begins with. */
export function NewSet({
  from,
  sources,
  onKept,
}: {
  from: NamedSet | null;
  sources: SetSource[];
  onKept: (id: number) => void;
}) {
  const first = sources[0];
  if (!first) return null;
  return (
    <section className="sheet pad">
      <h2>{t('sets.another')}</h2>
      <RecipeForm
        set={null}
        beginning={{ title: '', recipe: from?.recipe ?? blank(first.questionnaire) }}
        sources={sources}
        onKept={onKept}
      />
    </section>
  );
}

const VIEWS = ['recipe', 'rows'] as const;
type View = (typeof VIEWS)[number];
const VIEW_WORDS: Record<View, string> = { recipe: t('sets.viewRecipe'), rows: t('sets.viewRows') };

export function SetPane({
  set,
  sources,
  onGo,
}: {
  set: NamedSet;
  sources: SetSource[];
  /** Where to from here: another data set, a new one from this one, or the first. */
  onGo: (set: string | null, from?: number) => void;
}) {
  const study = useStudy();
  const may = useMay();
  const [params, setParams] = useSearchParams();
  const view: View = params.get('view') === 'rows' ? 'rows' : 'recipe';
  const [kept, setKept] = useState(0);
  const made = useQuery({
    queryKey: ['data set', set.id, 'made', set.version, set.revision],
    queryFn: () => ask(api.GET('/api/data-sets/{data_set_id}/made', { params: { path: { data_set_id: set.id } } })),
    retry: false,
  });
  const isOwn = set.questionnaire_id != null;
  const at = `/studies/${String(study.id)}`;
  return (
    <section className="sheet pad">
      <div className="page-head tight">
        <h2>{set.title}</h2>
        <span className="muted small">
          {t('sets.revision', { revision: set.revision })}
          {set.tables.length > 0 && ` · ${t('sets.tableCount', { count: set.tables.length })}`}
        </span>
        <span className="grow" />
        <Link to={`${at}/analyse?${DATA}=${String(set.id)}`}>{t('common.analyse')}</Link>
        <Link to={`${at}/hand-over?${DATA}=${String(set.id)}`}>{t('common.handOver')}</Link>
        {may('combine.write') && (
          <Button
            onClick={() => {
              onGo('new', set.id);
            }}
          >
            {t('sets.anotherFromIt')}
          </Button>
        )}
        {!isOwn && may('combine.write') && <Remove set={set} onGo={onGo} />}
      </div>
      {!isOwn && (
        <Segmented<View>
          value={view}
          options={VIEWS.map((one) => ({ value: one, label: VIEW_WORDS[one] }))}
          onChange={(one) => {
            setParams((now) => {
              now.set('view', one);
              return now;
            });
          }}
        />
      )}
      {view === 'rows' ? (
        <Loaded query={made}>{(found) => <SetRows set={set} made={found} />}</Loaded>
      ) : isOwn ? (
        <>
          <p className="muted">{t('sets.ownMeans')}</p>
          <Loaded query={made}>{(found) => <SetRows set={set} made={found} />}</Loaded>
        </>
      ) : !may('combine.write') ? (
        <>
          <p className="muted">{t('sets.madeBy', { who: set.created_by })}</p>
          <Loaded query={made}>
            {(found) => (
              <MadeView
                made={found}
                recipe={set.recipe}
                titles={set.recipe.sources.map((one) => titleOf(one, sources))}
              />
            )}
          </Loaded>
        </>
      ) : (
        <RecipeForm
          key={kept}
          set={set}
          beginning={{ title: set.title, recipe: set.recipe }}
          sources={sources}
          onKept={() => {
            setKept((times) => times + 1);
          }}
        />
      )}
    </section>
  );
}

function Remove({ set, onGo }: { set: NamedSet; onGo: (set: string | null) => void }) {
  const study = useStudy();
  const queries = useQueryClient();
  const { message } = App.useApp();
  const told = { onError: (error: Error) => void message.error(messageOf(error)) };
  const refresh = () => queries.invalidateQueries({ queryKey: keyOfSets(study.id) });
  const back = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/studies/{study_id}/data-sets/{removed_id}/bring-back', {
          params: { path: { study_id: study.id, removed_id: set.id } },
        }),
      ),
    onSuccess: async () => {
      await refresh();
      onGo(String(set.id));
    },
    ...told,
  });
  const remove = useMutation({
    mutationFn: () => ask(api.DELETE('/api/data-sets/{data_set_id}', { params: { path: { data_set_id: set.id } } })),
    onSuccess: async () => {
      onGo(null);
      await refresh();
      void message.open({
        type: 'success',
        duration: 10,
        content: (
          <>
            {t('sets.removed', { title: set.title })}{' '}
            <Button
              size="small"
              type="link"
              onClick={() => {
                back.mutate();
              }}
            >
              {t('common.undo')}
            </Button>
          </>
        ),
      });
    },
    ...told,
  });
  return (
    <Button
      danger
      loading={remove.isPending}
      onClick={() => {
        if (!remove.isPending) remove.mutate();
      }}
    >
      {t('common.remove')}
    </Button>
  );
}
