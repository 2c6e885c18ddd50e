// Checks across sources: rules that speak of our answers and of outside tables at once, with what breaks them.
import { useQuery } from '@tanstack/react-query';
import { Alert, Button, Input, Select } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useVariables } from '../data';
import { Loaded, messageOf } from '../../ui/states';
import { useMay, useStudy } from '../../ui/study';
import { useSettled } from '../../ui/useSettled';
import { t } from '../../texts/texts';
import { useAct, useOutsides } from './outside';

type Check = Schemas['SourceCheckOut'];
type Draft = Schemas['SourceCheckIn'];

export const useSourceChecks = (id: number) =>
  useQuery({
    queryKey: ['data', id, 'source checks'],
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/source-checks', { params: { path: { questionnaire_id: id } } }),
      ),
  });

export function SourceChecks({ id }: { id: number }) {
  const mayWrite = useMay()('combine.write');
  const checks = useSourceChecks(id);
  return (
    <section className="sheet pad">
      <h2>{t('combine.sourceChecks')}</h2>
      <p className="muted">{t('combine.sourceChecksMean')}</p>
      <Loaded query={checks}>
        {(found) => (
          <>
            {found.length > 0 && (
              <table className="outside-columns">
                <thead>
                  <tr>
                    <th>{t('combine.strictness')}</th>
                    <th>{t('combine.rule')}</th>
                    <th className="n">{t('combine.broken')}</th>
                    <th className="n">{t('combine.cannotSay')}</th>
                    <th />
                  </tr>
                </thead>
                <tbody>
                  {found.map((check) => (
                    <Line key={check.id} id={id} check={check} mayWrite={mayWrite} />
                  ))}
                </tbody>
              </table>
            )}
            {mayWrite && <NewCheck key={found.length} id={id} />}
          </>
        )}
      </Loaded>
    </section>
  );
}

function Line({ id, check, mayWrite }: { id: number; check: Check; mayWrite: boolean }) {
  const study = useStudy();
  const remove = useAct(id, () =>
    api.DELETE('/api/questionnaires/{questionnaire_id}/source-checks/{source_check_id}', {
      params: { path: { questionnaire_id: id, source_check_id: check.id } },
    }),
  );
  const identity = `${String(id)}:across_sources:${String(check.id)}`;
  return (
    <tr>
      <td className={check.strength === 'must' ? 'bad' : 'doubt'}>
        {check.strength === 'must' ? t('common.mustHold') : t('common.shouldHold')}
      </td>
      <th scope="row">
        <code>{check.rule}</code>
        {check.words !== '' && <div className="muted small">{check.words}</div>}
        {check.problem !== '' && <div className="bad small">{check.problem}</div>}
      </th>
      <td className="n">
        {check.found && check.found.interviews_count > 0 ? (
          <Link to={`/studies/${String(study.id)}/interviews?check=${encodeURIComponent(identity)}`}>
            {t('combine.brokenIn', { count: check.found.rows, of: check.found.of })}
          </Link>
        ) : (
          check.found && t('combine.brokenIn', { count: 0, of: check.found.of })
        )}
      </td>
      <td className="n muted">{check.found?.unknown ?? '–'}</td>
      <td className="n">
        {mayWrite && (
          <Button
            size="small"
            type="text"
            loading={remove.isPending}
            onClick={() => {
              if (!remove.isPending) remove.mutate(undefined);
            }}
          >
            {t('common.remove')}
          </Button>
        )}
      </td>
    </tr>
  );
}

const BLANK: Draft = { table: 'interviews', rule: '', strength: 'should', words: '' };

function NewCheck({ id }: { id: number }) {
  const variables = useVariables(id);
  const [draft, setDraft] = useState(BLANK);
  const settled = useSettled(draft.rule);
  const sources = useOutsides(id);
  const path = { questionnaire_id: id };
  const tables = [...new Set(['interviews', ...(variables.data ?? []).map((v) => v.table)])];
  const tried = useQuery({
    queryKey: ['data', id, 'source check', draft.table, settled],
    queryFn: () =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/source-checks/preview', {
          params: { path },
          body: { ...draft, rule: settled },
        }),
      ),
    enabled: settled.trim() !== '',
    retry: false,
  });
  const keep = useAct(id, () =>
    ask(api.POST('/api/questionnaires/{questionnaire_id}/source-checks', { params: { path }, body: draft })),
  );
  const outside = (variables.data ?? [])
    .filter((v) => sources.data?.some((one) => one.name === v.origin))
    .map((v) => v.variable);
  return (
    <div className="join-lines">
      <h3>{t('combine.newCheck')}</h3>
      <div className="row">
        <Select
          style={{ width: 140 }}
          aria-label={t('combine.everyRowOf')}
          value={draft.table}
          options={tables.map((value) => ({
            value,
            label: value === 'interviews' ? t('combine.theInterviews') : value,
          }))}
          onChange={(table) => {
            setDraft({ ...draft, table });
          }}
        />
        <Select
          style={{ width: 120 }}
          aria-label={t('combine.strictness')}
          value={draft.strength}
          options={[
            { value: 'should', label: t('common.shouldHold') },
            { value: 'must', label: t('common.mustHold') },
          ]}
          onChange={(strength) => {
            setDraft({ ...draft, strength });
          }}
        />
        <Input
          className="grow mono"
          aria-label={t('combine.rule')}
          placeholder={outside.length > 0 ? `opened <= ${outside[0] ?? ''}` : t('combine.rule')}
          value={draft.rule}
          onChange={(event) => {
            setDraft({ ...draft, rule: event.target.value });
          }}
        />
      </div>
      <div className="row beside-numbers">
        <Input
          className="grow"
          aria-label={t('combine.inWords')}
          placeholder={t('combine.inWords')}
          maxLength={500}
          value={draft.words}
          onChange={(event) => {
            setDraft({ ...draft, words: event.target.value });
          }}
        />
        <Button
          type="primary"
          disabled={!tried.data || settled !== draft.rule}
          loading={keep.isPending}
          onClick={() => {
            if (!keep.isPending) keep.mutate(undefined);
          }}
        >
          {t('combine.keepCheck')}
        </Button>
      </div>
      {tried.error ? (
        <Alert type="warning" showIcon title={messageOf(tried.error)} />
      ) : (
        <p className="muted small">
          {tried.data
            ? t('combine.wouldBreak', {
                rows: tried.data.rows,
                of: tried.data.of,
                interviews: tried.data.interviews_count,
                unknown: tried.data.unknown,
              })
            : t('combine.outsideVariables', { variables: outside.slice(0, 8).join(', ') || t('common.nothing') })}
        </p>
      )}
      {keep.error && <Alert type="error" showIcon title={messageOf(keep.error)} />}
    </div>
  );
}
