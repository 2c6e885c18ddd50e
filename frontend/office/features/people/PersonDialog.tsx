import { Alert, Checkbox, Form, Input, Modal, Select } from 'antd';
import { api, type Schemas } from '../../../shared/api/client';
import { SPOKEN_BY_PEOPLE } from '../../../shared/interview/languages';
import { t } from '../../texts/texts';
import { EnterSubmits } from '../../ui/EnterSubmits';
import { ROLES } from '../../ui/roles';
import { usePeopleChange, type Person } from './people';

interface Props {
  studyId: number;
  person: Person | null;
  teams: Schemas['TeamOut'][];
  onClose: () => void;
}

type Values = Schemas['PersonIn'];

/** A new person, or one to be changed. */
export function PersonDialog({ studyId, person, teams, onClose }: Props) {
  const [form] = Form.useForm<Values>();
  const watched = Form.useWatch<Values['roles'] | undefined>('roles', form);
  const roles = watched ?? person?.roles ?? [];
  const save = usePeopleChange(studyId, (values: Values) =>
    person === null
      ? api.POST('/api/studies/{study_id}/people', { params: { path: { study_id: studyId } }, body: values })
      : api.PUT('/api/studies/{study_id}/people/{member_id}', {
          params: { path: { study_id: studyId, member_id: person.id } },
          body: { ...values, version: person.version },
        }),
  );
  const initial: Partial<Values> = person
    ? {
        name: person.name,
        login: person.login ?? '',
        email: person.email,
        phone: person.phone,
        ...(person.language === '' ? {} : { language: person.language }),
        roles: person.roles as Values['roles'],
        team_id: person.team_id ?? null,
        supervises: person.supervises,
      }
    : { roles: ['enumerator'], login: '', email: '', phone: '', team_id: null, supervises: [] };
  return (
    <Modal
      open
      title={person === null ? t('people.aNewPerson') : person.name}
      okText={person === null ? t('people.add') : t('people.keep')}
      confirmLoading={save.isPending}
      onCancel={onClose}
      onOk={() => {
        form.submit();
      }}
    >
      <Form<Values>
        form={form}
        layout="vertical"
        requiredMark={false}
        initialValues={initial}
        onFinish={(values) => {
          if (!save.isPending)
            save.mutate({ ...initial, ...values, team_id: values.team_id ?? null }, { onSuccess: onClose });
        }}
      >
        <Form.Item
          name="name"
          label={t('common.name')}
          rules={[{ required: true, whitespace: true, message: t('people.needsName') }]}
        >
          <Input autoFocus autoComplete="off" maxLength={128} />
        </Form.Item>
        <Form.Item name="roles" label={t('people.roles')} rules={[{ required: true, message: t('people.needsRole') }]}>
          <Checkbox.Group options={Object.entries(ROLES).map(([value, label]) => ({ value, label }))} />
        </Form.Item>
        <div className="row">
          <Form.Item name="team_id" label={t('people.team')} className="grow">
            <Select
              allowClear
              placeholder={t('people.noTeam')}
              options={teams.map((team) => ({ value: team.id, label: team.name }))}
            />
          </Form.Item>
          <Form.Item name="language" label={t('people.language')} className="grow">
            <Select allowClear showSearch={{ optionFilterProp: 'label' }} options={SPOKEN_BY_PEOPLE} />
          </Form.Item>
        </div>
        {roles.includes('supervisor') && teams.length > 0 && (
          <Form.Item name="supervises" label={t('people.supervises')} extra={t('people.supervisesExtra')}>
            <Select
              mode="multiple"
              placeholder={t('people.wholeStudy')}
              showSearch={{ optionFilterProp: 'label' }}
              options={teams.map((team) => ({ value: team.id, label: team.name }))}
            />
          </Form.Item>
        )}
        <Form.Item
          name="login"
          label={t('people.login')}
          extra={t('people.loginExtra')}
          rules={[{ pattern: /^[^\s@/]*$/, message: t('people.loginForm') }]}
        >
          <Input autoComplete="off" maxLength={64} />
        </Form.Item>
        <div className="row">
          <Form.Item
            name="email"
            label={t('people.email')}
            className="grow"
            rules={[{ type: 'email', message: t('people.emailForm') }]}
          >
            <Input autoComplete="off" maxLength={254} />
          </Form.Item>
          <Form.Item name="phone" label={t('people.phone')} className="grow">
            <Input autoComplete="off" maxLength={40} />
          </Form.Item>
        </div>
        <EnterSubmits />
        {save.error && <Alert type="error" showIcon title={save.error.message} />}
      </Form>
    </Modal>
  );
}
