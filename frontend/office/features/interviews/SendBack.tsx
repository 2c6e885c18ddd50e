import { Input, Modal } from 'antd';
import { useState } from 'react';
import type { Remark } from './decisions';
import { t } from '../../texts/texts';

interface Props {
  line: { key: string };
  /** Remarks at questions, written while reading. */
  remarks?: Remark[];
  onClose: () => void;
  onSend: (remark: string) => void;
}

/** Sending an interview back: with what the enumerator should look at, all told or question by question. */
export function SendBack({ line, remarks = [], onClose, onSend }: Props) {
  const [remark, setRemark] = useState('');
  const nothing = remark.trim() === '' && remarks.length === 0;
  return (
    <Modal
      open
      title={t('interviews.sendThisBack', { key: line.key })}
      okText={t('interviews.sendBack')}
      okButtonProps={{ disabled: nothing }}
      onCancel={onClose}
      onOk={() => {
        onSend(remark);
      }}
    >
      {remarks.length > 0 && (
        <ul className="plain-list">
          {remarks.map((r) => (
            <li key={r.path}>
              <code>{r.path}</code> {r.text}
            </li>
          ))}
        </ul>
      )}
      <Input.TextArea
        autoFocus
        rows={3}
        placeholder={
          remarks.length > 0 ? t('interviews.whatElseEnumeratorShould') : t('interviews.whatEnumeratorShouldLook')
        }
        value={remark}
        onChange={(event) => {
          setRemark(event.target.value);
        }}
      />
      <p className="muted small">{t('interviews.enumeratorsPhoneFetchesNext')}</p>
    </Modal>
  );
}
