import { useQuery } from '@tanstack/react-query';
import { Alert, Button, Form, Spin } from 'antd';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, ask } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { ChoosePassphrase } from './ChoosePassphrase';
import { Door } from './Door';
import { useWayIn } from './session';

/** Choosing a passphrase with a link that works once. Its secret stands behind #, where no server and no log sees it. */
export function WayIn() {
  const [secret] = useState(() => window.location.hash.slice(1));
  const navigate = useNavigate();
  const link = useQuery({
    queryKey: ['session', 'link', secret],
    queryFn: () => ask(api.POST('/api/way-in/link', { body: { secret } })),
    retry: false,
    staleTime: Infinity,
  });
  const choose = useWayIn((passphrase: string) => api.POST('/api/way-in/passphrase', { body: { secret, passphrase } }));
  if (link.isPending)
    return (
      <div className="waiting">
        <Spin />
      </div>
    );
  if (link.error)
    return (
      <Door title={t('session.linkEnded')}>
        <p>{link.error.message}</p>
        <Link to="/">{t('session.backToSignIn')}</Link>
      </Door>
    );
  return (
    <Door
      title={
        link.data.kind === 'invitation' ? t('session.welcome', { name: link.data.name }) : t('session.forgottenTitle')
      }
    >
      <p className="muted">{t('session.youSignInAs', { login: link.data.login })}</p>
      <Form<{ passphrase: string }>
        layout="vertical"
        requiredMark={false}
        onFinish={({ passphrase }) => {
          if (!choose.isPending)
            choose.mutate(passphrase, {
              onSuccess: () => {
                void navigate('/', { replace: true });
              },
            });
        }}
      >
        <ChoosePassphrase />
        {choose.error && <Alert type="error" showIcon title={choose.error.message} style={{ marginBottom: 12 }} />}
        <Button type="primary" size="large" htmlType="submit" block loading={choose.isPending}>
          {t('session.keepAndSignIn')}
        </Button>
      </Form>
    </Door>
  );
}
