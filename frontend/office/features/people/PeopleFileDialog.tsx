import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Alert, App, Modal, Table } from 'antd';
import { useState } from 'react';
import { sendFile, type Schemas } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { roleWords } from '../../ui/roles';

type Row = Schemas['PersonRow'];

const JUDGED: Record<Row['judged'], string> = {
  new: t('people.judgedNew'),
  changed: t('people.judgedChanged'),
  same: t('people.judgedSame'),
  doubtful: t('people.judgedDoubtful'),
};

/** Many people from a file: what is new, changed or doubtful is seen before anything is kept. */
export function PeopleFileDialog({ studyId, onClose }: { studyId: number; onClose: () => void }) {
  const [file, setFile] = useState<File | null>(null);
  const queries = useQueryClient();
  const { message } = App.useApp();
  const address = (chosen: File, keep: boolean) =>
    `/api/studies/${String(studyId)}/people/file?name=${encodeURIComponent(chosen.name)}${keep ? '&keep=true' : ''}`;
  const look = useMutation({
    mutationFn: (chosen: File) => sendFile<Schemas['PeopleFile']>(address(chosen, false), chosen),
  });
  const keep = useMutation({
    mutationFn: (chosen: File) => sendFile<Schemas['PeopleFile']>(address(chosen, true), chosen),
    onSuccess: (done) => {
      void queries.invalidateQueries({ queryKey: ['study', studyId] });
      void message.success(t('people.broughtIn', { count: done.kept }));
      onClose();
    },
  });
  const rows = look.data?.rows ?? [];
  const count = (judged: Row['judged']) => rows.filter((row) => row.judged === judged).length;
  const wanted = count('new') + count('changed');
  return (
    <Modal
      open
      width={860}
      title={t('people.fileTitle')}
      okText={t('people.fileKeep', { count: wanted })}
      okButtonProps={{ disabled: wanted === 0 }}
      confirmLoading={keep.isPending}
      onCancel={onClose}
      onOk={() => {
        if (file !== null && !keep.isPending) keep.mutate(file);
      }}
    >
      <p className="muted">{t('people.fileMeans')}</p>
      <input
        type="file"
        accept=".csv,.xlsx"
        aria-label={t('people.theFile')}
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          if (chosen === undefined) return;
          setFile(chosen);
          look.mutate(chosen);
        }}
      />
      {(look.error ?? keep.error) && (
        <Alert type="error" showIcon title={(look.error ?? keep.error)?.message} style={{ marginTop: 12 }} />
      )}
      {look.data && (
        <>
          <p>
            {t('people.fileCounts', {
              added: count('new'),
              changed: count('changed'),
              same: count('same'),
              doubtful: count('doubtful'),
            })}
          </p>
          <Table<Row>
            size="small"
            rowKey="row"
            pagination={rows.length > 50 ? { pageSize: 50, showSizeChanger: false } : false}
            scroll={{ y: 320 }}
            dataSource={rows}
            columns={[
              { title: t('people.fileRow'), dataIndex: 'row', width: 60 },
              { title: t('common.name'), dataIndex: 'name' },
              { title: t('people.roles'), render: (_, r) => r.roles.map(roleWords).join(', ') },
              { title: t('people.team'), dataIndex: 'team' },
              {
                title: t('people.fileJudged'),
                render: (_, r) => (
                  <span className={r.judged === 'doubtful' ? 'bad' : r.judged === 'same' ? 'muted' : ''}>
                    {JUDGED[r.judged]}
                    {r.why !== '' && `: ${r.why}`}
                  </span>
                ),
              },
            ]}
          />
        </>
      )}
    </Modal>
  );
}
