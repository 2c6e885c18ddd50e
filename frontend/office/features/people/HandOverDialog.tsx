import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Alert, App, Modal, Select } from 'antd';
import { useState } from 'react';
import { api, ask } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import type { Person } from './people';

interface Props {
  studyId: number;
  person: Person;
  people: Person[];
  onClose: () => void;
}

/** What was sent back to somebody goes to another enumerator's phone. */
export function HandOverDialog({ studyId, person, people, onClose }: Props) {
  const [to, setTo] = useState<number | null>(null);
  const queries = useQueryClient();
  const { message } = App.useApp();
  const give = useMutation({
    mutationFn: (taker: number) =>
      ask(
        api.POST('/api/studies/{study_id}/people/{member_id}/handing-over', {
          params: { path: { study_id: studyId, member_id: person.id } },
          body: { to: taker },
        }),
      ),
    onSuccess: (given) => {
      void queries.invalidateQueries({ queryKey: ['study', studyId, 'people'] });
      void message.success(t('people.handedOver', { count: given.interviews }));
      onClose();
    },
  });
  const takers = people.filter((p) => p.left_at == null && p.id !== person.id && p.roles.includes('enumerator'));
  return (
    <Modal
      open
      title={t('people.handOverTitle', { name: person.name })}
      okText={t('people.handOverDo')}
      okButtonProps={{ disabled: to === null }}
      confirmLoading={give.isPending}
      onCancel={onClose}
      onOk={() => {
        if (to !== null && !give.isPending) give.mutate(to);
      }}
    >
      <p>{t('people.handOverMeans', { count: person.to_correct })}</p>
      <Select<number>
        autoFocus
        showSearch={{ optionFilterProp: 'label' }}
        style={{ width: '100%' }}
        aria-label={t('people.handOverTo')}
        placeholder={t('people.handOverTo')}
        value={to}
        options={takers.map((p) => ({ value: p.id, label: p.team === '' ? p.name : `${p.name} · ${p.team}` }))}
        onChange={setTo}
      />
      {give.error && <Alert type="error" showIcon title={give.error.message} style={{ marginTop: 12 }} />}
    </Modal>
  );
}
