// Ready lists, each with its source: some are taken, in the languages of the questionnaire.
import { useQuery } from '@tanstack/react-query';
import { Checkbox, Input, Modal } from 'antd';
import { useState } from 'react';
import { t } from '../../../texts/texts';
import { Loaded } from '../../../ui/states';
import type { CodeList, Script } from '../script/model';
import { freeListName } from './newLists';
import type { Lists } from './useLists';

interface Props {
  lists: Lists;
  script: Script;
  onClose: () => void;
  onTake: (made: CodeList[]) => void;
}

export function ReadyLists({ lists, script, onClose, onTake }: Props) {
  const ready = useQuery({ queryKey: ['ready lists'], queryFn: lists.ready, staleTime: Infinity });
  const [ticked, setTicked] = useState<string[]>([]);
  const [wanted, setWanted] = useState('');
  const [busy, setBusy] = useState(false);
  const take = async () => {
    setBusy(true);
    const made: CodeList[] = [];
    for (const name of ticked) {
      const list = await lists.takeReady(name, script.languages);
      const known = { ...script, code_lists: [...script.code_lists, ...made] };
      made.push({ ...list, name: freeListName(known, list.name) });
    }
    onTake(made);
  };
  return (
    <Modal
      open
      width={860}
      title={t('lists.readyTitle')}
      okText={t('lists.takeReady', { count: ticked.length })}
      okButtonProps={{ disabled: ticked.length === 0, loading: busy }}
      onCancel={onClose}
      onOk={() => {
        void take().finally(() => {
          setBusy(false);
        });
      }}
    >
      <Input
        autoFocus
        allowClear
        placeholder={t('lists.findReady')}
        aria-label={t('lists.findReady')}
        value={wanted}
        onChange={(event) => {
          setWanted(event.target.value);
        }}
      />
      <Loaded query={ready}>
        {(entries) => (
          <div className="ready-lists">
            {entries
              .filter((e) =>
                `${e.title} ${e.source} ${e.name} ${e.shown.join(' ')}`.toLowerCase().includes(wanted.toLowerCase()),
              )
              .map((e) => (
                <label key={e.name} className={ticked.includes(e.name) ? 'ready-list on' : 'ready-list'}>
                  <Checkbox
                    checked={ticked.includes(e.name)}
                    onChange={() => {
                      setTicked(ticked.includes(e.name) ? ticked.filter((n) => n !== e.name) : [...ticked, e.name]);
                    }}
                  />
                  <span>
                    <b>{e.title}</b> <span className="muted small">{e.source}</span>
                    <br />
                    <span className="small ready-codes">
                      {e.shown.join(' · ')}
                      {e.codes > e.shown.length ? ' …' : ''}
                    </span>
                  </span>
                  <span className="muted small number">{t('questionnaire.codesCount', { count: e.codes })}</span>
                </label>
              ))}
          </div>
        )}
      </Loaded>
    </Modal>
  );
}
