// Rows from a file: what becomes of each is seen before anything is kept.
import { useMutation } from '@tanstack/react-query';
import { Alert, Modal, Table, type TableColumnsType } from 'antd';
import { useState } from 'react';
import { sendFile } from '../../shared/api/client';
import { t } from '../texts/texts';

interface Judged {
  row: number;
  judged: 'new' | 'changed' | 'same' | 'known' | 'doubtful';
  why: string;
}

interface Props<Row extends Judged> {
  title: string;
  /** What the file has to look like. */
  means: string;
  /** Where it is sent; `?name=` and, to keep what is new, `&keep=true` are added. */
  address: string;
  /** What is shown of a row besides what becomes of it. */
  columns: TableColumnsType<Row>;
  onKept: (kept: number) => void;
  onClose: () => void;
}

const JUDGED: Record<Judged['judged'], string> = {
  new: t('people.judgedNew'),
  changed: t('people.judgedChanged'),
  same: t('people.judgedSame'),
  known: t('people.judgedSame'),
  doubtful: t('people.judgedDoubtful'),
};

export function RowsFile<Row extends Judged>({ title, means, address, columns, onKept, onClose }: Props<Row>) {
  const [file, setFile] = useState<File | null>(null);
  const send = (chosen: File, keep: boolean) =>
    sendFile<{ rows: Row[]; kept: number }>(
      `${address}?name=${encodeURIComponent(chosen.name)}${keep ? '&keep=true' : ''}`,
      chosen,
    );
  const look = useMutation({ mutationFn: (chosen: File) => send(chosen, false) });
  const keep = useMutation({
    mutationFn: (chosen: File) => send(chosen, true),
    onSuccess: (done) => {
      onKept(done.kept);
      onClose();
    },
  });
  const rows = look.data?.rows ?? [];
  const count = (...judged: Judged['judged'][]) => rows.filter((row) => judged.includes(row.judged)).length;
  const wanted = count('new', 'changed');
  const problem = look.error ?? keep.error;
  return (
    <Modal
      open
      width={860}
      title={title}
      okText={t('people.fileKeep', { count: wanted })}
      okButtonProps={{ disabled: wanted === 0 }}
      confirmLoading={keep.isPending}
      onCancel={onClose}
      onOk={() => {
        if (file !== null && !keep.isPending) keep.mutate(file);
      }}
    >
      <p className="muted">{means}</p>
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
      {problem && <Alert type="error" showIcon title={problem.message} style={{ marginTop: 12 }} />}
      {look.data && (
        <>
          <p>
            {t('people.fileCounts', {
              added: count('new'),
              changed: count('changed'),
              same: count('same', 'known'),
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
              ...columns,
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
