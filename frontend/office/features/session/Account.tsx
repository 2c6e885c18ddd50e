import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Alert, App, Button, Form, Input } from 'antd';
import { api, ask } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { momentsIn } from '../../ui/moments';
import { Loaded, messageOf } from '../../ui/states';
import { ChoosePassphrase } from './ChoosePassphrase';
import { useSession } from './session';

const HERE = momentsIn(Intl.DateTimeFormat().resolvedOptions().timeZone);

/** Whoever is signed in: their passphrase, and where they are signed in. */
export default function Account() {
  const who = useSession();
  return (
    <div className="page narrow">
      <div className="page-head">
        <h1>{who.data?.name}</h1>
        <span className="muted">{t('session.youSignInAs', { login: who.data?.login ?? '' })}</span>
      </div>
      <SignedIn />
      <Passphrase />
    </div>
  );
}

function SignedIn() {
  const queries = useQueryClient();
  const sessions = useQuery({ queryKey: ['sessions'], queryFn: () => ask(api.GET('/api/session/all')) });
  const end = useMutation({
    mutationFn: (id: number) =>
      ask(api.DELETE('/api/session/all/{session_id}', { params: { path: { session_id: id } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['sessions'] }),
  });
  return (
    <section className="sheet pad">
      <h2>{t('session.whereSignedIn')}</h2>
      <Loaded query={sessions}>
        {(data) => (
          <ul className="plain-list sessions">
            {data.map((s) => (
              <li key={s.id} className="row">
                <span className="grow">
                  <b>{browserOf(s.browser)}</b> <span className="muted">{s.address}</span>
                  <br />
                  <span className="muted small">
                    {t('session.sinceUsed', { since: HERE.dayAndTime(s.began_at), used: HERE.ago(s.used_at) })}
                  </span>
                </span>
                {s.here ? (
                  <span className="muted">{t('session.here')}</span>
                ) : (
                  <Button
                    size="small"
                    onClick={() => {
                      end.mutate(s.id);
                    }}
                  >
                    {t('session.endThis')}
                  </Button>
                )}
              </li>
            ))}
          </ul>
        )}
      </Loaded>
      {end.error && <Alert type="error" showIcon title={messageOf(end.error)} />}
    </section>
  );
}

/** The name of a browser from what it says of itself; the whole where it is none of the common ones. */
function browserOf(says: string): string {
  const name = ['Firefox', 'Edg', 'OPR', 'Chrome', 'Safari'].find((one) => says.includes(one));
  const system = ['Android', 'iPhone', 'iPad', 'Windows', 'Mac OS X', 'Linux'].find((one) => says.includes(one));
  const told = name === 'Edg' ? 'Edge' : name === 'OPR' ? 'Opera' : name;
  return told === undefined ? says.slice(0, 60) || '?' : [told, system].filter((w) => w !== undefined).join(' · ');
}

function Passphrase() {
  const { message } = App.useApp();
  const [form] = Form.useForm<{ present: string; passphrase: string }>();
  const change = useMutation({
    mutationFn: ({ present, passphrase }: { present: string; passphrase: string }) =>
      ask(api.PUT('/api/session/passphrase', { body: { present, wanted: passphrase } })),
    onSuccess: () => {
      form.resetFields();
      void message.success(t('session.passphraseChanged'));
    },
  });
  return (
    <section className="sheet pad">
      <h2>{t('session.anotherPassphrase')}</h2>
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        onFinish={(values) => {
          if (!change.isPending) change.mutate(values);
        }}
      >
        <Form.Item
          name="present"
          label={t('session.presentPassphrase')}
          rules={[{ required: true, message: t('session.yourPassphrase') }]}
        >
          <Input.Password autoComplete="current-password" maxLength={256} />
        </Form.Item>
        <ChoosePassphrase />
        {change.error && <Alert type="error" showIcon title={change.error.message} style={{ marginBottom: 12 }} />}
        <Button htmlType="submit" loading={change.isPending}>
          {t('session.changeIt')}
        </Button>
      </Form>
    </section>
  );
}
