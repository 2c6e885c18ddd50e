import { useMutation, useQueryClient } from '@tanstack/react-query';
import { App, Button, Dropdown, Input, Popover } from 'antd';
import { useState } from 'react';
import { api, type Schemas } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { useMay } from '../../ui/study';
import { askToSave, type Source } from './source';

/** The tables that were saved, to be opened or removed. */
export function SavedTables({
  id,
  tables,
  onOpen,
}: {
  id: number;
  tables: Schemas['SavedOut'][];
  onOpen: (id: number) => void;
}) {
  const may = useMay();
  const queries = useQueryClient();
  const remove = useMutation({
    mutationFn: (table: number) =>
      api.DELETE('/api/data-sets/{data_set_id}/tables/{table_id}', {
        params: { path: { data_set_id: id, table_id: table } },
      }),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['tables', id] }),
  });
  const { modal } = App.useApp();
  if (tables.length === 0) return null;
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        items: tables.map((table) => ({
          key: table.id,
          label: (
            <span className="row">
              <span className="grow">{table.title}</span>
              {may('analyse.write') && (
                <Button
                  size="small"
                  type="text"
                  aria-label={t('analyse.remove', { title: table.title })}
                  onClick={(event) => {
                    event.stopPropagation();
                    modal.confirm({
                      title: t('analyse.removeSavedTable', { title: table.title }),
                      content: t('analyse.itsSentenceGoesData'),
                      okText: t('common.remove'),
                      okButtonProps: { danger: true },
                      onOk: () => remove.mutateAsync(table.id),
                    });
                  }}
                >
                  ×
                </Button>
              )}
            </span>
          ),
          onClick: () => {
            onOpen(table.id);
          },
        })),
      }}
    >
      <Button>{t('analyse.savedTables', { tables: tables.length })}</Button>
    </Dropdown>
  );
}

/** Keep the sentence of a table under a title. */
export function SaveTable({
  source,
  request,
  disabled,
  onSaved,
}: {
  source: Source;
  request: Schemas['TableRequest'];
  disabled: boolean;
  onSaved: (id: number) => void;
}) {
  const [title, setTitle] = useState('');
  const [open, setOpen] = useState(false);
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: () => askToSave(source, title, request),
    onSuccess: (made) => {
      setOpen(false);
      setTitle('');
      void queries.invalidateQueries({ queryKey: ['tables', source.dataSetId] }).then(() => {
        onSaved(made.id);
      });
    },
  });
  return (
    <Popover
      trigger="click"
      placement="bottomRight"
      open={open}
      onOpenChange={setOpen}
      content={
        <form
          className="row"
          style={{ width: 320 }}
          onSubmit={(event) => {
            event.preventDefault();
            if (!save.isPending && title.trim() !== '') save.mutate();
          }}
        >
          <Input
            autoFocus
            placeholder={t('analyse.titleTable')}
            value={title}
            onChange={(event) => {
              setTitle(event.target.value);
            }}
          />
          <Button type="primary" htmlType="submit" disabled={title.trim() === ''} loading={save.isPending}>
            {t('analyse.save')}
          </Button>
        </form>
      }
    >
      <Button type="primary" disabled={disabled}>
        {t('analyse.save2')}
      </Button>
    </Popover>
  );
}
