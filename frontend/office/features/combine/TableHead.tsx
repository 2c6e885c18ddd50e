// What a table is called, where its rows are from, and what can be done with it as a whole.
import { App, Button, Dropdown, Input, Modal } from 'antd';
import { useState } from 'react';
import { api, ask } from '../../../shared/api/client';
import { useMoments } from '../../ui/moments';
import { messageOf } from '../../ui/states';
import { useMay } from '../../ui/study';
import { t } from '../../texts/texts';
import { BringIn } from './BringIn';
import { useAct, type Joined, type Outside } from './outside';

export function TableHead({ id, table, joined }: { id: number; table: Outside; joined: Joined | null }) {
  const may = useMay();
  const { modal, message } = App.useApp();
  const { dayOf } = useMoments();
  const [again, setAgain] = useState(false);
  const [name, setName] = useState<string | null>(null);
  const path = { questionnaire_id: id, outside_id: table.id };
  const told = {
    onError: (error: Error) => {
      void message.error(messageOf(error));
    },
  };
  const remove = useAct(id, () =>
    api.DELETE('/api/questionnaires/{questionnaire_id}/outside/{outside_id}', { params: { path } }),
  );
  const back = useAct(id, () =>
    ask(
      api.DELETE('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/file', {
        params: { path, query: { version: table.version } },
      }),
    ),
  );
  const rename = useAct(
    id,
    (called: string) =>
      ask(
        api.PUT('/api/questionnaires/{questionnaire_id}/outside/{outside_id}/name', {
          params: { path },
          body: { name: called, version: table.version },
        }),
      ),
    () => {
      setName(null);
    },
  );
  const before = table.earlier[0];
  const isJoined = joined?.join != null;
  return (
    <div className="page-head tight">
      <h2>{table.name}</h2>
      <span className="muted small clip">
        {t('combine.rowsBrought', {
          count: table.rows,
          file_name: table.file_name,
          created_by: table.created_by,
          on: dayOf(table.created_at),
        })}
      </span>
      <span className="grow" />
      {may('combine.write') && (
        <>
          <Button
            onClick={() => {
              setAgain(true);
            }}
          >
            {t('combine.bringAgain')}
          </Button>
          <Dropdown
            trigger={['click']}
            menu={{
              items: [
                { key: 'rename', label: t('combine.rename'), disabled: isJoined },
                ...(before
                  ? [{ key: 'back', label: t('combine.goBack', { file_name: before.file_name, rows: before.rows }) }]
                  : []),
                { key: 'remove', label: t('combine.removeTable'), danger: true, disabled: isJoined },
              ],
              onClick: ({ key }) => {
                if (key === 'rename') setName(table.name);
                if (key === 'back') back.mutate(undefined, told);
                if (key === 'remove')
                  void modal.confirm({
                    title: t('combine.remove', { name: table.name }),
                    content: t('combine.itsRowsItsCard', { count: table.rows }),
                    okText: t('common.remove'),
                    okButtonProps: { danger: true },
                    onOk: () => remove.mutateAsync(undefined, told),
                  });
              },
            }}
          >
            <Button aria-label={t('combine.more')}>⋯</Button>
          </Dropdown>
        </>
      )}
      {again && (
        <BringIn
          id={id}
          again={table}
          onClose={() => {
            setAgain(false);
          }}
        />
      )}
      <Modal
        open={name !== null}
        title={t('combine.rename')}
        okText={t('common.keep')}
        okButtonProps={{ disabled: (name ?? '').trim() === '', loading: rename.isPending }}
        onOk={() => {
          if (!rename.isPending) rename.mutate((name ?? '').trim(), told);
        }}
        onCancel={() => {
          setName(null);
        }}
      >
        <p className="muted">{t('combine.renameMeans')}</p>
        <Input
          maxLength={40}
          aria-label={t('combine.rename')}
          value={name ?? ''}
          onChange={(event) => {
            setName(event.target.value);
          }}
        />
      </Modal>
    </div>
  );
}
