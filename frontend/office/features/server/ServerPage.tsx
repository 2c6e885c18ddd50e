import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Alert, Button, Checkbox, Form, Input, Modal, Table } from 'antd';
import { useState } from 'react';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { momentsIn } from '../../ui/moments';
import { EnterSubmits } from '../../ui/EnterSubmits';
import { Loaded, messageOf } from '../../ui/states';
import { NameManager } from './NameManager';
import './server.css';

type Person = Schemas['ServerPerson'];
const HERE = momentsIn(Intl.DateTimeFormat().resolvedOptions().timeZone);

/** Studies and people of this server, for whoever administers it; nothing that a study holds. */
export default function ServerPage() {
  const queries = useQueryClient();
  const server = useQuery({ queryKey: ['server'], queryFn: () => ask(api.GET('/api/server')) });
  const [adding, setAdding] = useState(false);
  const [managed, setManaged] = useState<Schemas['ServerStudy'] | null>(null);
  const [link, setLink] = useState<Schemas['LinkMade'] | null>(null);
  const renew = useMutation({
    mutationFn: (person: Person) =>
      ask(api.POST('/api/server/people/{person_id}/link', { params: { path: { person_id: person.id } } })),
    onSuccess: setLink,
  });
  const raise = useMutation({
    mutationFn: ({ person, up }: { person: Person; up: boolean }) => {
      const params = { path: { person_id: person.id } };
      return ask(
        up
          ? api.POST('/api/server/people/{person_id}/administrator', { params })
          : api.DELETE('/api/server/people/{person_id}/administrator', { params }),
      );
    },
    onSuccess: (overview) => {
      queries.setQueryData(['server'], overview);
    },
  });
  const error = renew.error ?? raise.error;
  return (
    <div className="page">
      <div className="page-head">
        <h1>{t('server.title')}</h1>
        <span className="muted">{t('server.what')}</span>
        <span className="grow" />
        <Button
          type="primary"
          onClick={() => {
            setAdding(true);
          }}
        >
          {t('people.addPerson')}
        </Button>
      </div>
      {error && <Alert type="error" showIcon title={messageOf(error)} style={{ marginBottom: 12 }} />}
      <Loaded query={server}>
        {(data) => (
          <>
            <div className="sheet">
              <Table<Person>
                size="small"
                rowKey="id"
                pagination={data.people.length > 100 ? { pageSize: 100, showSizeChanger: false } : false}
                dataSource={data.people}
                columns={[
                  {
                    title: t('common.name'),
                    render: (_, p) => (
                      <>
                        <b>{p.name}</b> <span className="muted small">{p.login}</span>
                      </>
                    ),
                  },
                  { title: t('people.email'), dataIndex: 'email' },
                  { title: t('server.studies'), render: (_, p) => p.studies.join(', ') },
                  {
                    title: t('people.lastSeen'),
                    render: (_, p) =>
                      p.has_passphrase ? (p.last_seen == null ? '–' : HERE.ago(p.last_seen)) : t('people.invited'),
                  },
                  {
                    title: t('server.administers'),
                    width: 120,
                    render: (_, p) => (
                      <Checkbox
                        checked={p.is_administrator}
                        aria-label={t('server.administersWho', { name: p.name })}
                        onChange={(event) => {
                          raise.mutate({ person: p, up: event.target.checked });
                        }}
                      />
                    ),
                  },
                  {
                    title: '',
                    align: 'right',
                    width: 170,
                    render: (_, p) => (
                      <Button
                        size="small"
                        onClick={() => {
                          renew.mutate(p);
                        }}
                      >
                        {p.has_passphrase ? t('people.newPassphrase') : t('server.linkAgain')}
                      </Button>
                    ),
                  },
                ]}
              />
            </div>
            <h2 className="section-head">{t('server.studies')}</h2>
            <div className="sheet lines">
              {data.studies.map((study) => (
                <div key={study.id} className="server-study">
                  <b>{study.title}</b>
                  <span className="muted clip">
                    {t('server.managedBy', { names: study.managers.join(', ') || '–' })}
                  </span>
                  <span className="figure muted">{HERE.dayOf(study.created_at)}</span>
                  <Button
                    size="small"
                    onClick={() => {
                      setManaged(study);
                    }}
                  >
                    {t('server.nameManagerOpen')}
                  </Button>
                </div>
              ))}
            </div>
            {managed && (
              <NameManager
                study={managed}
                people={data.people}
                onClose={() => {
                  setManaged(null);
                }}
              />
            )}
          </>
        )}
      </Loaded>
      <Letters />
      {adding && (
        <AddPerson
          onClose={() => {
            setAdding(false);
          }}
          onMade={(made) => {
            setAdding(false);
            setLink(made);
            void queries.invalidateQueries({ queryKey: ['server'] });
          }}
        />
      )}
      {link && (
        <Modal
          open
          title={t('people.theLink')}
          footer={null}
          onCancel={() => {
            setLink(null);
          }}
        >
          <p>{link.mailed_to === '' ? t('server.handLinkOn') : t('server.mailed', { to: link.mailed_to })}</p>
          <Input.TextArea readOnly autoSize className="mono" value={link.link} aria-label={t('people.theLink')} />
        </Modal>
      )}
    </div>
  );
}

/** Where a stand-in takes the letters, as in the demo, they are read here. */
function Letters() {
  const sent = useQuery({
    queryKey: ['server', 'letters'],
    queryFn: () => ask(api.GET('/api/server/letters')),
    refetchInterval: 10_000,
  });
  const letters = sent.data?.letters;
  if (letters == null) return null;
  return (
    <>
      <h2 className="section-head">
        {t('server.letters')} <span className="muted small">{t('server.lettersMeans')}</span>
      </h2>
      <div className="sheet pad">
        {letters.length === 0 && <p className="muted">{t('server.noLetters')}</p>}
        {letters.map((letter) => (
          <details key={`${letter.at} ${letter.to}`}>
            <summary>
              <b>{letter.subject}</b> <span className="muted">{letter.to}</span>{' '}
              <span className="muted small">{HERE.ago(letter.at)}</span>
            </summary>
            <pre className="letter">{letter.text}</pre>
          </details>
        ))}
      </div>
    </>
  );
}

function AddPerson({ onClose, onMade }: { onClose: () => void; onMade: (made: Schemas['LinkMade']) => void }) {
  const [form] = Form.useForm<Schemas['NewPerson']>();
  const add = useMutation({
    mutationFn: (body: Schemas['NewPerson']) => ask(api.POST('/api/server/people', { body })),
    onSuccess: onMade,
  });
  return (
    <Modal
      open
      title={t('people.aNewPerson')}
      okText={t('people.add')}
      confirmLoading={add.isPending}
      onCancel={onClose}
      onOk={() => {
        form.submit();
      }}
    >
      <Form<Schemas['NewPerson']>
        form={form}
        layout="vertical"
        requiredMark={false}
        initialValues={{ email: '', is_administrator: false }}
        onFinish={(values) => {
          if (!add.isPending) add.mutate(values);
        }}
      >
        <Form.Item
          name="name"
          label={t('common.name')}
          rules={[{ required: true, whitespace: true, message: t('people.needsName') }]}
        >
          <Input autoFocus autoComplete="off" maxLength={128} />
        </Form.Item>
        <Form.Item
          name="login"
          label={t('people.login')}
          rules={[
            { required: true, message: t('session.yourSignName') },
            { pattern: /^[^\s@/]+$/, message: t('people.loginForm') },
          ]}
        >
          <Input autoComplete="off" maxLength={64} />
        </Form.Item>
        <Form.Item name="email" label={t('people.email')} rules={[{ type: 'email', message: t('people.emailForm') }]}>
          <Input autoComplete="off" maxLength={254} />
        </Form.Item>
        <Form.Item name="is_administrator" valuePropName="checked">
          <Checkbox>{t('server.administersToo')}</Checkbox>
        </Form.Item>
        <EnterSubmits />
        {add.error && <Alert type="error" showIcon title={add.error.message} />}
      </Form>
    </Modal>
  );
}
