import { useQueryClient } from '@tanstack/react-query';
import { App } from 'antd';
import type { Schemas } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { roleWords } from '../../ui/roles';
import { RowsFile } from '../../ui/RowsFile';

/** Many people from a file: what is new, changed or doubtful is seen before anything is kept. */
export function PeopleFileDialog({ studyId, onClose }: { studyId: number; onClose: () => void }) {
  const queries = useQueryClient();
  const { message } = App.useApp();
  return (
    <RowsFile<Schemas['PersonRow']>
      title={t('people.fileTitle')}
      means={t('people.fileMeans')}
      address={`/api/studies/${String(studyId)}/people/file`}
      columns={[
        { title: t('common.name'), dataIndex: 'name' },
        { title: t('people.roles'), render: (_, r) => r.roles.map(roleWords).join(', ') },
        { title: t('people.team'), dataIndex: 'team' },
      ]}
      onKept={(kept) => {
        void queries.invalidateQueries({ queryKey: ['study', studyId] });
        void message.success(t('people.broughtIn', { count: kept }));
      }}
      onClose={onClose}
    />
  );
}
