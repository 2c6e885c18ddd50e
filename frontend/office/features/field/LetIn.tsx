import { Alert, Input, Modal } from 'antd';
import { useState } from 'react';
import { api, ask } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { useFieldChange, type Phone } from './phones';

/** Lets in somebody who forgot the PIN: what their phone shows is compared with what it sent. */
export function LetIn({ studyId, phone, onClose }: { studyId: number; phone: Phone; onClose: () => void }) {
  const [told, setTold] = useState('');
  const letIn = useFieldChange(studyId, (letters: string) =>
    ask(
      api.POST('/api/devices/{device_id}/letting-in', {
        params: { path: { device_id: phone.id } },
        body: { told: letters },
      }),
    ),
  );
  const go = () => {
    if (told.trim() !== '' && !letIn.isPending) letIn.mutate(told.trim(), { onSuccess: onClose });
  };
  return (
    <Modal
      open
      title={t('field.letInWho', { enumerator: phone.enumerator, name: phone.name })}
      okText={t('field.letIn')}
      okButtonProps={{ disabled: told.trim() === '', loading: letIn.isPending }}
      onOk={go}
      onCancel={onClose}
    >
      <p>{t('field.letInWhat', { enumerator: phone.enumerator })}</p>
      <label className="detail-label" htmlFor="told">
        {t('field.lettersRead')}
      </label>
      <Input
        id="told"
        className="mono"
        autoFocus
        autoComplete="off"
        value={told}
        onChange={(event) => {
          setTold(event.target.value);
        }}
        onPressEnter={go}
      />
      {letIn.error && <Alert type="error" showIcon title={letIn.error.message} style={{ marginTop: 12 }} />}
    </Modal>
  );
}
