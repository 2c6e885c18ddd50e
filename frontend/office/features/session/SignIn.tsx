import { Alert, Button, Form, Input } from 'antd';
import type { Schemas } from '../../../shared/api/client';
import { Mark } from '../../ui/Mark';
import { useSignIn } from './session';
import { Link } from 'react-router';
import './session.css';
import { t } from '../../texts/texts';
import { Words } from '../../texts/Words';

export function SignIn() {
  const signIn = useSignIn();
  return (
    <main className="sign-in">
      <Mark dark />
      <h1>{t('session.sign')}</h1>
      <Form<Schemas['SignIn']>
        layout="vertical"
        requiredMark={false}
        onFinish={(values) => {
          signIn.mutate(values);
        }}
      >
        <Form.Item
          name="login"
          label={t('common.name')}
          rules={[{ required: true, message: t('session.yourSignName') }]}
        >
          <Input size="large" autoComplete="username" autoFocus />
        </Form.Item>
        <Form.Item
          name="password"
          label={t('session.password')}
          rules={[{ required: true, message: t('session.yourPassword') }]}
        >
          <Input.Password size="large" autoComplete="current-password" />
        </Form.Item>
        {signIn.error && <Alert type="error" showIcon title={signIn.error.message} style={{ marginBottom: 12 }} />}
        <Button type="primary" size="large" htmlType="submit" block loading={signIn.isPending}>
          {t('session.sign')}
        </Button>
      </Form>
      <p className="muted">
        <Words k="session.enumeratorsOpenFieldPage" parts={{ a: <Link to="/field/" reloadDocument /> }} />
      </p>
    </main>
  );
}
