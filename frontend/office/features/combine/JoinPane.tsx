// How a table joins: by which keys, made alike in which ways, and by what likeness; tried as it is written.
import { useQuery } from '@tanstack/react-query';
import { Alert, App, Button, Select } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, ask } from '../../../shared/api/client';
import { useVariables, type Variable } from '../data';
import { messageOf } from '../../ui/states';
import { useMay, useStudy } from '../../ui/study';
import { t } from '../../texts/texts';
import { KeyLines } from './KeyLines';
import { NearLines } from './NearLines';
import { ALIKE, useAct, type Join, type Joined, type Outside } from './outside';
import { ReportView } from './ReportView';
import { calledAs, wrongIn } from './taken';
import { TakenNames } from './TakenNames';

const BLANK: Join = {
  into: 'interviews',
  keys: [],
  take: [],
  called: {},
  keep: 'all',
  several: 'refuse',
  near: null,
};
const KEEP: Record<Join['keep'], string> = {
  all: t('combine.keepAll'),
  matched: t('combine.keepMatched'),
  without: t('combine.keepWithout'),
};
const SEVERAL: Record<Join['several'], string> = {
  refuse: t('combine.severalRefuse'),
  leave: t('combine.severalLeave'),
  first: t('combine.severalFirst'),
  rows: t('combine.severalRows'),
};

const choices = <T extends string>(words: Record<T, string>) =>
  (Object.entries(words) as [T, string][]).map(([value, label]) => ({ value, label }));

/** The variables that a table can be joined by: its own, and those of the tables that it stands in. */
function within(variables: Variable[], into: string): Variable[] {
  return variables.filter((v) => (v.table === into || v.table === 'interviews') && v.measure !== 'codes');
}

export function JoinPane({ id, table, joined }: { id: number; table: Outside; joined: Joined | null }) {
  const mayWrite = useMay()('combine.write');
  const { message } = App.useApp();
  const variables = useVariables(id);
  const [draft, setDraft] = useState<Join>(joined?.join ?? BLANK);
  const [editing, setEditing] = useState(joined?.join == null);
  const path = { questionnaire_id: id, outside_id: table.id };
  const kept = joined?.join ?? null;
  const changed = JSON.stringify(draft) !== JSON.stringify(kept ?? BLANK);
  const ready =
    draft.take.length > 0 &&
    wrongIn(draft.called).length === 0 &&
    (draft.keys.length > 0 || draft.near !== null) &&
    draft.keys.every((pair) => pair.ours !== '' && pair.theirs !== '') &&
    (draft.near?.compare.every((one) => one.ours !== '' && one.theirs !== '') ?? true);
  const preview = useQuery({
    queryKey: ['data', id, 'join preview', table.id, table.version, draft],
    queryFn: () =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/join/preview', {
          params: { path },
          body: draft,
        }),
      ),
    enabled: ready && mayWrite && changed,
    placeholderData: (before) => before,
    retry: false,
  });
  const keep = useAct(
    id,
    (join: Join | null) =>
      ask(
        api.PUT('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/join', {
          params: { path },
          body: { join, version: table.version },
        }),
      ),
    (made) => {
      if (made.report)
        void message.success(t('combine.joinedCanUsedLike', { variables: made.report.variables.join(', ') }));
    },
  );
  const learn = useAct(
    id,
    (join: Join) =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/join/weights', {
          params: { path },
          body: join,
        }),
      ),
    setDraft,
  );
  const all = variables.data ?? [];
  const intos = [...new Set(['interviews', ...all.map((v) => v.table)])];
  const ours = within(all, draft.into);
  const report = changed ? (ready ? (preview.data ?? null) : null) : (joined?.report ?? null);
  const error = preview.error ?? keep.error ?? learn.error;
  const form = (
    <div className="join-form">
      <div className="join-into row">
        <span>{t('combine.columnsGoTo')}</span>
        <Select
          style={{ width: 180 }}
          aria-label={t('combine.columnsGoTo')}
          value={draft.into}
          options={intos.map((value) => ({
            value,
            label: value === 'interviews' ? t('combine.theInterviews') : value,
          }))}
          onChange={(into) => {
            setDraft({ ...draft, into });
          }}
        />
        <span>{t('combine.takeOver')}</span>
        <Select
          className="grow"
          mode="multiple"
          aria-label={t('combine.takeOver')}
          value={draft.take}
          placeholder={t('combine.whichColumns')}
          options={table.columns.map((c) => ({ value: c.name, label: c.name }))}
          onChange={(take) => {
            setDraft({ ...draft, take, called: calledAs(take, draft.called, table.suggested) });
          }}
        />
      </div>
      <TakenNames
        called={draft.called}
        onChange={(called) => {
          setDraft({ ...draft, called });
        }}
      />
      <KeyLines
        id={id}
        join={draft}
        variables={ours}
        table={table}
        onChange={(keys) => {
          setDraft({ ...draft, keys });
        }}
      />
      <NearLines
        id={id}
        join={draft}
        variables={ours}
        table={table}
        learning={learn.isPending}
        onLearn={() => {
          if (!learn.isPending) learn.mutate(draft);
        }}
        onChange={(near) => {
          setDraft({ ...draft, near, several: near !== null && draft.several === 'rows' ? 'leave' : draft.several });
        }}
      />
      <div className="join-into row">
        <span>{t('combine.whichStay')}</span>
        <Select
          style={{ width: 190 }}
          aria-label={t('combine.whichStay')}
          value={draft.keep}
          options={choices(KEEP)}
          onChange={(stay) => {
            setDraft({ ...draft, keep: stay });
          }}
        />
        <span>{t('combine.whereSeveral')}</span>
        <Select
          style={{ width: 200 }}
          aria-label={t('combine.whereSeveral')}
          value={draft.several}
          options={choices(SEVERAL).filter(({ value }) => value !== 'rows' || draft.near === null)}
          onChange={(several) => {
            setDraft({ ...draft, several });
          }}
        />
        <span className="grow" />
        {kept !== null && (
          <Button
            type="text"
            onClick={() => {
              setDraft(kept);
              setEditing(false);
            }}
          >
            {t('combine.asItWas')}
          </Button>
        )}
        <Button
          type="primary"
          disabled={!ready || !changed || !preview.data || (draft.several === 'refuse' && preview.data.more > 0)}
          loading={keep.isPending}
          onClick={() => {
            if (!keep.isPending) keep.mutate(draft);
          }}
        >
          {kept === null ? t('combine.join') : t('combine.joinSo')}
        </Button>
      </div>
    </div>
  );
  return (
    <div className="join-pane">
      {editing && mayWrite ? (
        form
      ) : kept === null ? (
        <p className="muted">{t('combine.notJoinedYet')}</p>
      ) : (
        <div className="row join-said">
          <p>{joinWords(kept)}</p>
          <span className="grow" />
          {mayWrite && (
            <>
              <Button
                onClick={() => {
                  setEditing(true);
                }}
              >
                {t('combine.changeHow')}
              </Button>
              <Button
                loading={keep.isPending}
                onClick={() => {
                  if (!keep.isPending) keep.mutate(null);
                }}
              >
                {t('combine.undoJoin')}
              </Button>
            </>
          )}
        </div>
      )}
      {error && <Alert type="error" showIcon title={messageOf(error)} />}
      {joined?.problem && !changed && (
        <Alert type="error" showIcon title={t('combine.joinNoLongerFits', { problem: joined.problem })} />
      )}
      {report !== null ? (
        <>
          {draft.several === 'refuse' && report.more > 0 && (
            <Alert type="warning" showIcon title={t('combine.wouldMultiply', { count: report.more })} />
          )}
          {!changed && report.doubtful > 0 && <Doubtful table={table} count={report.doubtful} />}
          <ReportView id={id} table={table} report={report} into={draft.into} kept={!changed} />
        </>
      ) : (
        mayWrite && <p className="muted">{t('combine.sayWhichColumnWhich')}</p>
      )}
      {!changed && kept?.near && report !== null && report.doubtful === 0 && (
        <p>
          <MatchesLink table={table}>{t('combine.seeMatches')}</MatchesLink>
        </p>
      )}
    </div>
  );
}

/** A join in one sentence. */
function joinWords(join: Join): string {
  const keys = join.keys.map((pair) =>
    t('combine.keyWords', {
      ours: pair.ours,
      theirs: pair.theirs,
      alike: pair.alike.length === 0 ? '' : ` (${pair.alike.map((way) => ALIKE[way] ?? way).join(', ')})`,
    }),
  );
  const near =
    join.near === null ? [] : [t('combine.nearWords', { ours: join.near.compare.map((c) => c.ours).join(', ') })];
  const into = join.into === 'interviews' ? [] : [t('combine.intoWords', { into: join.into })];
  const stay = join.keep === 'all' ? [] : [`${t('combine.whichStay')}: ${KEEP[join.keep]}`];
  const found = [...keys, ...near].join('; ');
  return [t('combine.takesOver', { take: join.take.join(', '), found }), ...into, ...stay].join(' ');
}

const MatchesLink = ({ table, children }: { table: Outside; children: string }) => {
  const study = useStudy();
  return <Link to={`/studies/${String(study.id)}/combine/${String(table.id)}/matches`}>{children}</Link>;
};

const Doubtful = ({ table, count }: { table: Outside; count: number }) => (
  <Alert
    type="warning"
    showIcon
    title={t('combine.doubtfulWait', { count })}
    action={<MatchesLink table={table}>{t('combine.decideThem')}</MatchesLink>}
  />
);
