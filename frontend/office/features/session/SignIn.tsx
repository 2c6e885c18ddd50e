import { useMutation } from '@tanstack/react-query';
import { Alert, Button, Form, Input } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { Words } from '../../texts/Words';
import { Door } from './Door';
import { useSignIn } from './session';

export function SignIn() {
  const signIn = useSignIn();
  const [forgotten, setForgotten] = useState(false);
  if (forgotten)
    return (
      <Forgotten
        onBack={() => {
          setForgotten(false);
        }}
      />
    );
  return (
    <Door title={t('session.sign')}>
      <Form<Schemas['SignIn']>
        layout="vertical"
        requiredMark={false}
        onFinish={(values) => {
          if (!signIn.isPending) signIn.mutate(values);
        }}
      >
        <Form.Item
          name="login"
          label={t('session.name')}
          rules={[{ required: true, message: t('session.yourSignName') }]}
        >
          <Input size="large" autoComplete="username" autoCapitalize="none" autoFocus />
        </Form.Item>
        <Form.Item
          name="password"
          label={t('session.passphrase')}
          rules={[{ required: true, message: t('session.yourPassphrase') }]}
        >
          <Input.Password size="large" autoComplete="current-password" />
        </Form.Item>
        {signIn.error && <Alert type="error" showIcon title={signIn.error.message} style={{ marginBottom: 12 }} />}
        <Button type="primary" size="large" htmlType="submit" block loading={signIn.isPending}>
          {t('session.sign')}
        </Button>
      </Form>
      <p>
        <button
          type="button"
          className="plain-link"
          onClick={() => {
            setForgotten(true);
          }}
        >
          {t('session.forgotten')}
        </button>
      </p>
      <p className="muted">
        <Words k="session.enumeratorsOpenFieldPage" parts={{ a: <Link to="/field/" reloadDocument /> }} />
      </p>
    </Door>
  );
}

function Forgotten({ onBack }: { onBack: () => void }) {
  const send = useMutation({
    mutationFn: (body: Schemas['Forgotten']) => ask(api.POST('/api/way-in/forgotten', { body })),
  });
  return (
    <Door title={t('session.forgottenTitle')}>
      {send.isSuccess ? (
        <p>{t('session.forgottenSent')}</p>
      ) : (
        <Form<Schemas['Forgotten']>
          layout="vertical"
          requiredMark={false}
          onFinish={(values) => {
            if (!send.isPending) send.mutate(values);
          }}
        >
          <p className="muted">{t('session.forgottenMeans')}</p>
          <Form.Item
            name="login"
            label={t('session.name')}
            rules={[{ required: true, message: t('session.yourSignName') }]}
          >
            <Input size="large" autoComplete="username" autoCapitalize="none" autoFocus />
          </Form.Item>
          {send.error && <Alert type="error" showIcon title={send.error.message} style={{ marginBottom: 12 }} />}
          <Button type="primary" size="large" htmlType="submit" block loading={send.isPending}>
            {t('session.sendLink')}
          </Button>
        </Form>
      )}
      <p>
        <button type="button" className="plain-link" onClick={onBack}>
          {t('session.backToSignIn')}
        </button>
      </p>
    </Door>
  );
}
