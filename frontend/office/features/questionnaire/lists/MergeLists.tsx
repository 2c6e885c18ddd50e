// Two lists made one: which code becomes which is seen before, and decided where both use a code for different things.
import { useQuery } from '@tanstack/react-query';
import { Modal, Select } from 'antd';
import { useState } from 'react';
import { t } from '../../../texts/texts';
import { Loaded } from '../../../ui/states';
import { usersOf, type CodeList, type Script } from '../script/model';
import type { Lists } from './useLists';

interface Props {
  /** The list that stays. */
  list: CodeList;
  lists: Lists;
  script: Script;
  onClose: () => void;
  onMerged: (script: Script) => void;
}

const WHY = {
  'same code': 'lists.becomesSame',
  'same label': 'lists.becomesByLabel',
  new: 'lists.becomesNew',
  clash: 'lists.becomesClash',
} as const;
const MOST_ROWS = 300;

export function MergeLists({ list, lists, script, onClose, onMerged }: Props) {
  const [goes, setGoes] = useState<string | null>(null);
  const [becomes, setBecomes] = useState<Record<string, string>>({});
  const plan = useQuery({
    queryKey: ['merge lists', list, goes, becomes],
    queryFn: () => lists.merging(script, list.name, goes ?? '', becomes),
    enabled: goes !== null,
    placeholderData: (before) => before,
  });
  const clashes = plan.data?.plan.filter((row) => row.why === 'clash') ?? [];
  return (
    <Modal
      open
      width={760}
      title={t('lists.mergeTitle', { name: list.name })}
      okText={t('lists.merge')}
      okButtonProps={{ disabled: goes === null || !plan.data, loading: plan.isFetching }}
      onCancel={onClose}
      onOk={() => {
        if (plan.data) onMerged(plan.data.script);
      }}
    >
      <p>
        {t('lists.mergeWhat', { name: list.name })}{' '}
        <Select
          autoFocus
          showSearch
          style={{ minWidth: 220 }}
          aria-label={t('lists.mergeWhich')}
          placeholder={t('lists.mergeWhich')}
          value={goes}
          options={script.code_lists
            .filter((l) => l.name !== list.name)
            .map((l) => ({
              value: l.name,
              label: `${l.name} · ${t('questionnaire.codesCount', { count: l.codes.length })} · ${t('lists.uses', { count: usersOf(script, l.name).length })}`,
            }))}
          onChange={(name: string) => {
            setGoes(name);
            setBecomes({});
          }}
        />
      </p>
      {goes !== null && (
        <Loaded query={plan}>
          {({ plan: rows }) => (
            <>
              {clashes.length > 0 && <p className="rule-note">{t('lists.clashes', { count: clashes.length })}</p>}
              <div className="faults">
                <table className="codes-table">
                  <thead>
                    <tr>
                      <th>{goes}</th>
                      <th>{t('lists.label')}</th>
                      <th>{t('lists.becomesIn', { name: list.name })}</th>
                      <th />
                    </tr>
                  </thead>
                  <tbody>
                    {[...clashes, ...rows.filter((r) => r.why !== 'clash')].slice(0, MOST_ROWS).map((row) => (
                      <tr key={row.code}>
                        <td className="mono">{row.code}</td>
                        <td>{row.label}</td>
                        <td>
                          {row.why === 'clash' ? (
                            <Select
                              size="small"
                              style={{ width: 240 }}
                              aria-label={t('lists.becomesOf', { code: row.code })}
                              value={becomes[row.code] ?? row.becomes}
                              options={[
                                { value: row.becomes, label: t('lists.asNewCode', { code: row.becomes }) },
                                { value: row.code, label: t('lists.asPresent', { label: row.label_there }) },
                              ]}
                              onChange={(to: string) => {
                                setBecomes({ ...becomes, [row.code]: to });
                              }}
                            />
                          ) : (
                            <span className="mono">{row.becomes}</span>
                          )}
                        </td>
                        <td className="muted small">{t(WHY[row.why], { label: row.label_there })}</td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              </div>
              {rows.length > MOST_ROWS && (
                <p className="muted small">{t('questionnaire.more', { more: rows.length - MOST_ROWS })}</p>
              )}
              <p className="muted small">
                {t('lists.mergeThen', {
                  uses: t('lists.uses', { count: usersOf(script, goes).length }),
                  name: list.name,
                  goes,
                })}
              </p>
            </>
          )}
        </Loaded>
      )}
    </Modal>
  );
}
