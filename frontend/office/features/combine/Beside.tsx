// Our own data held against a table, group by group: shares, means and totals, ours with their intervals.
import { useQuery } from '@tanstack/react-query';
import { Alert, Select } from 'antd';
import { useState } from 'react';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useVariables, variableChoices } from '../data';
import { messageOf } from '../../ui/states';
import { t } from '../../texts/texts';
import { InWords } from './KeyLines';
import type { Joined, Outside } from './outside';

type Asked = Schemas['SideBySide'];
type Group = Schemas['GroupOut'];
type Side = Schemas['SideOut'];

export function Beside({ id, table, joined }: { id: number; table: Outside; joined: Joined | null }) {
  const variables = useVariables(id);
  const key = joined?.join?.keys[0];
  const [asked, setAsked] = useState<Asked>({
    table: 'interviews',
    ours: '',
    theirs: key?.theirs ?? '',
    words: '',
    alike: ['case'],
    our_number: '',
    their_number: '',
    their_count: '',
  });
  const all = variables.data ?? [];
  const tables = [...new Set(all.map((v) => v.table))];
  const own = all.filter((v) => v.table === asked.table);
  const groups = all.filter((v) => (v.table === asked.table || v.table === 'interviews') && v.measure !== 'codes');
  const numbers = table.columns.filter((c) => c.read_as === 'number').map((c) => ({ value: c.name, label: c.name }));
  const ready = asked.ours !== '' && asked.theirs !== '';
  const found = useQuery({
    queryKey: ['data', id, 'beside', table.id, table.version, asked],
    queryFn: () =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/beside', {
          params: { path: { questionnaire_id: id, outside_id: table.id } },
          body: asked,
        }),
      ),
    enabled: ready,
    retry: false,
    placeholderData: (before) => before,
  });
  const put = (changed: Partial<Asked>) => {
    setAsked({ ...asked, ...changed });
  };
  const isMean = asked.our_number !== '' && asked.their_number !== '';
  const nothing = { value: '', label: t('combine.countedRows') };
  return (
    <div className="beside">
      <div className="join-lines">
        <div className="row">
          <span>{t('combine.groupsOf')}</span>
          <Select
            style={{ width: 130 }}
            aria-label={t('combine.groupsOf')}
            value={asked.table}
            options={tables.map((value) => ({
              value,
              label: value === 'interviews' ? t('combine.theInterviews') : value,
            }))}
            onChange={(value) => {
              put({ table: value, ours: '', our_number: '' });
            }}
          />
          <span>{t('common.by')}</span>
          <Select
            style={{ width: 240 }}
            showSearch={{ optionFilterProp: 'label' }}
            aria-label={t('combine.groupVariable')}
            placeholder={t('common.whichVariable')}
            value={asked.ours === '' ? null : asked.ours}
            options={variableChoices(groups)}
            onChange={(ours: string) => {
              const hasCodes = Object.keys(all.find((v) => v.variable === ours)?.codes ?? {}).length > 0;
              put({ ours, words: hasCodes ? 'en' : '' });
            }}
          />
          <InWords
            variable={all.find((v) => v.variable === asked.ours)}
            words={asked.words}
            onChange={(words) => {
              put({ words });
            }}
          />
          <span>{t('combine.is')}</span>
          <Select
            style={{ width: 180 }}
            showSearch
            aria-label={t('combine.columnTable')}
            placeholder={t('combine.columnTable')}
            value={asked.theirs === '' ? null : asked.theirs}
            options={table.columns.map((c) => ({ value: c.name, label: c.name }))}
            onChange={(theirs: string) => {
              put({ theirs });
            }}
          />
        </div>
        <div className="row beside-numbers">
          <span>{t('combine.ourNumber')}</span>
          <Select
            style={{ width: 240 }}
            showSearch={{ optionFilterProp: 'label' }}
            aria-label={t('combine.ourNumber')}
            value={asked.our_number}
            options={[nothing, ...variableChoices(own.filter((v) => v.measure === 'number'))]}
            onChange={(our_number) => {
              put({ our_number });
            }}
          />
          <span>{t('combine.theirNumber')}</span>
          <Select
            style={{ width: 160 }}
            aria-label={t('combine.theirNumber')}
            value={asked.their_number}
            options={[nothing, ...numbers]}
            onChange={(their_number) => {
              put({ their_number });
            }}
          />
          <span>{t('combine.theirCount')}</span>
          <Select
            style={{ width: 160 }}
            aria-label={t('combine.theirCount')}
            value={asked.their_count}
            options={[{ value: '', label: t('combine.oneEach') }, ...numbers]}
            onChange={(their_count) => {
              put({ their_count });
            }}
          />
        </div>
      </div>
      {found.error && <Alert type="error" showIcon title={messageOf(found.error)} />}
      {!ready && <p className="muted">{t('combine.besideMeans')}</p>}
      {ready && found.data && (
        <>
          <table className="outside-columns">
            <thead>
              <tr>
                <th>{asked.ours}</th>
                <th className="n">{t('combine.oursCount')}</th>
                <th className="n">{isMean ? t('combine.oursMean') : t('combine.oursShare')}</th>
                <th className="n">{t('combine.interval')}</th>
                <th className="n">{t('combine.theirsCount', { table: table.name })}</th>
                <th className="n">{isMean ? t('combine.theirsMean') : t('combine.theirsShare')}</th>
                <th className="n">{isMean ? t('combine.difference') : t('combine.differencePoints')}</th>
                {isMean && <th className="n">{t('combine.totals')}</th>}
              </tr>
            </thead>
            <tbody>
              {found.data.groups.map((group) => (
                <Line key={group.name} group={group} isMean={isMean} />
              ))}
              {found.data.whole && <Line group={found.data.whole} isMean={isMean} />}
            </tbody>
          </table>
          <p className="muted small">
            {t('combine.besideNote', { ours: found.data.without_ours, theirs: found.data.without_theirs })}
          </p>
        </>
      )}
    </div>
  );
}

const figure = (value: number | null, isMean: boolean) =>
  value === null ? '–' : isMean ? String(Math.round(value * 100) / 100) : `${(100 * value).toFixed(1)} %`;

const apartBy = (difference: number, isMean: boolean) =>
  `${difference < 0 ? '−' : '+'}${isMean ? figure(Math.abs(difference), true) : (100 * Math.abs(difference)).toFixed(1)}`;

function Line({ group, isMean }: { group: Group; isMean: boolean }) {
  const of = (side: Side) => (isMean ? side.mean : side.share);
  const [low, high] = isMean
    ? [group.ours.mean_low, group.ours.mean_high]
    : [group.ours.share_low, group.ours.share_high];
  const ours = of(group.ours);
  const theirs = of(group.theirs);
  const isWhole = group.name === '';
  return (
    <tr className={isWhole ? 'whole' : ''}>
      <th scope="row">{isWhole ? t('combine.allGroups') : group.name}</th>
      <td className="n">{group.ours.count}</td>
      <td className="n">{figure(ours, isMean)}</td>
      <td className="n muted">
        {low === null || high === null ? '–' : `${figure(low, isMean)} – ${figure(high, isMean)}`}
      </td>
      <td className="n">{Math.round(group.theirs.count * 100) / 100}</td>
      <td className="n">{figure(theirs, isMean)}</td>
      <td className={group.apart && !(isWhole && !isMean) ? 'n doubt' : 'n'}>
        {ours === null || theirs === null ? '–' : apartBy(ours - theirs, isMean)}
        {group.apart && !(isWhole && !isMean) && <span aria-label={t('combine.outsideInterval')}> ◇</span>}
      </td>
      {isMean && (
        <td className="n muted">
          {group.ours.total === null ? '–' : Math.round(group.ours.total * 100) / 100} ·{' '}
          {group.theirs.total === null ? '–' : Math.round(group.theirs.total * 100) / 100}
        </td>
      )}
    </tr>
  );
}
