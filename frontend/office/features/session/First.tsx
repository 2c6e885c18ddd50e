import { Alert, Button, Form, Input } from 'antd';
import { api, type Schemas } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { ChoosePassphrase } from './ChoosePassphrase';
import { Door } from './Door';
import { useWayIn } from './session';

/** The first administrator of a new server, who proves by the code from its terminal that it is theirs. */
export function First() {
  const begin = useWayIn((body: Schemas['First']) => api.POST('/api/way-in/first', { body }));
  return (
    <Door title={t('session.firstTitle')}>
      <p className="muted">{t('session.firstMeans')}</p>
      <Form<Schemas['First']>
        layout="vertical"
        requiredMark={false}
        onFinish={({ code, name, login, passphrase }) => {
          if (!begin.isPending) begin.mutate({ code, name, login, passphrase });
        }}
      >
        <Form.Item
          name="code"
          label={t('session.firstCode')}
          rules={[{ required: true, message: t('session.firstCodeNeeded') }]}
        >
          <Input className="mono" placeholder="ABCD-EFGH" autoComplete="off" autoFocus />
        </Form.Item>
        <Form.Item
          name="name"
          label={t('session.yourName')}
          rules={[{ required: true, whitespace: true, message: t('people.needsName') }]}
        >
          <Input autoComplete="name" maxLength={128} />
        </Form.Item>
        <Form.Item
          name="login"
          label={t('session.name')}
          rules={[
            { required: true, message: t('session.yourSignName') },
            { pattern: /^[^\s@/]+$/, message: t('people.loginForm') },
          ]}
        >
          <Input autoComplete="username" autoCapitalize="none" maxLength={64} />
        </Form.Item>
        <ChoosePassphrase />
        {begin.error && <Alert type="error" showIcon title={begin.error.message} style={{ marginBottom: 12 }} />}
        <Button type="primary" size="large" htmlType="submit" block loading={begin.isPending}>
          {t('session.begin')}
        </Button>
      </Form>
    </Door>
  );
}
