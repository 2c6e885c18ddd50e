import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Alert, Modal, Select } from 'antd';
import { useState } from 'react';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { t } from '../../texts/texts';

interface Props {
  study: Schemas['ServerStudy'];
  people: Schemas['ServerPerson'][];
  onClose: () => void;
}

/** Another data manager for a study whose own are out of reach. */
export function NameManager({ study, people, onClose }: Props) {
  const queries = useQueryClient();
  const [login, setLogin] = useState<string | null>(null);
  const name = useMutation({
    mutationFn: (wanted: string) =>
      ask(
        api.POST('/api/server/studies/{managed_id}/managers', {
          params: { path: { managed_id: study.id } },
          body: { login: wanted },
        }),
      ),
    onSuccess: (overview) => {
      queries.setQueryData(['server'], overview);
      onClose();
    },
  });
  return (
    <Modal
      open
      title={t('server.nameManagerOf', { study: study.title })}
      okText={t('server.nameManager')}
      okButtonProps={{ disabled: login === null }}
      confirmLoading={name.isPending}
      onCancel={onClose}
      onOk={() => {
        if (login !== null && !name.isPending) name.mutate(login);
      }}
    >
      <p className="muted">{t('server.nameManagerMeans')}</p>
      <Select
        autoFocus
        showSearch={{ optionFilterProp: 'label' }}
        style={{ width: '100%' }}
        aria-label={t('server.dataManager')}
        placeholder={t('server.dataManager')}
        value={login}
        onChange={setLogin}
        options={people.map((p) => ({ value: p.login ?? '', label: `${p.name} (${p.login ?? ''})` }))}
      />
      {name.error && <Alert type="error" showIcon title={name.error.message} style={{ marginTop: 12 }} />}
    </Modal>
  );
}
