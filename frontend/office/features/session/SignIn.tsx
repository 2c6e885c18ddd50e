import { Alert, Button, Form, Input } from 'antd';
import type { Schemas } from '../../../shared/api/client';
import { Mark } from '../../ui/Mark';
import { useSignIn } from './session';
import './session.css';

export function SignIn() {
  const signIn = useSignIn();
  return (
    <main className="sign-in">
      <Mark dark />
      <h1>Sign in</h1>
      <Form<Schemas['SignIn']>
        layout="vertical"
        requiredMark={false}
        onFinish={(values) => {
          signIn.mutate(values);
        }}
      >
        <Form.Item name="login" label="Name" rules={[{ required: true, message: 'Your sign-in name' }]}>
          <Input size="large" autoComplete="username" autoFocus />
        </Form.Item>
        <Form.Item name="password" label="Password" rules={[{ required: true, message: 'Your password' }]}>
          <Input.Password size="large" autoComplete="current-password" />
        </Form.Item>
        {signIn.error && <Alert type="error" showIcon title={signIn.error.message} style={{ marginBottom: 12 }} />}
        <Button type="primary" size="large" htmlType="submit" block loading={signIn.isPending}>
          Sign in
        </Button>
      </Form>
      <p className="muted">
        Enumerators: open <a href="/field/">the field page</a> on the phone.
      </p>
    </main>
  );
}
