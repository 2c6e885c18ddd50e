import { Alert, Form, Input, Modal, type InputRef } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { answerConfirmation, onConfirmation } from '../../../shared/api/client';
import { useMutation } from '@tanstack/react-query';
import { api, ask } from '../../../shared/api/client';
import { t } from '../../texts/texts';

/** Asks for the passphrase again before something dangerous; then what was asked for goes on by itself. */
export function ConfirmDialog() {
  const [asked, setAsked] = useState(false);
  const [form] = Form.useForm<{ password: string }>();
  const field = useRef<InputRef>(null);
  useEffect(
    () =>
      onConfirmation(() => {
        setAsked(true);
      }),
    [],
  );
  const confirm = useMutation({
    mutationFn: (body: { password: string }) => ask(api.POST('/api/session/confirmation', { body })),
  });
  const end = (confirmed: boolean) => {
    answerConfirmation(confirmed);
    setAsked(false);
    confirm.reset();
  };
  if (!asked) return null;
  return (
    <Modal
      open
      width={420}
      title={t('session.confirmTitle')}
      okText={t('session.goOn')}
      confirmLoading={confirm.isPending}
      zIndex={2000}
      afterOpenChange={(open) => {
        if (open) field.current?.focus();
      }}
      onCancel={() => {
        end(false);
      }}
      onOk={() => {
        form.submit();
      }}
    >
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        onFinish={(values: { password: string }) => {
          if (!confirm.isPending)
            confirm.mutate(values, {
              onSuccess: () => {
                end(true);
              },
            });
        }}
      >
        <Form.Item
          name="password"
          label={t('session.confirmMeans')}
          rules={[{ required: true, message: t('session.yourPassphrase') }]}
        >
          <Input.Password ref={field} autoComplete="current-password" maxLength={256} />
        </Form.Item>
        {confirm.error && <Alert type="error" showIcon title={confirm.error.message} />}
      </Form>
    </Modal>
  );
}
