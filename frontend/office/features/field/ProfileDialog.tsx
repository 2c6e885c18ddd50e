import { Alert, App, Button, Checkbox, Form, Input, InputNumber, Modal, Select } from 'antd';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { ORDINARY_PROFILE } from '../../../shared/api/contract';
import { languageName } from '../../../shared/interview/languages';
import { t } from '../../texts/texts';
import { useFieldChange, type Profile, type Settings } from './phones';
import { useMaps } from './maps/useMaps';
import { KEEPS, PAGES, SENDS, TURNINGS } from './profileWords';

interface Props {
  studyId: number;
  /** The profile to change; null for a new one. */
  profile: Profile | null;
  teams: Schemas['TeamOut'][];
  onClose: () => void;
}

type Values = Settings & { name: string; teams: number[] };

const optionsOf = <Key extends string>(words: Record<Key, string>) =>
  (Object.keys(words) as Key[]).map((value) => ({ value, label: words[value] }));

/** All settings of a field profile, and the teams whose phones obey it. */
export function ProfileDialog({ studyId, profile, teams, onClose }: Props) {
  const [form] = Form.useForm<Values>();
  const { modal } = App.useApp();
  const maps = useMaps(studyId);
  const keeps = Form.useWatch('keeps', form) as Settings['keeps'] | undefined;
  const pin = Form.useWatch('pin', form) as boolean | undefined;
  const path = { study_id: studyId };
  const save = useFieldChange(studyId, ({ name, teams: given, ...settings }: Values) => {
    const body = { name, teams: given, settings };
    return ask(
      profile === null
        ? api.POST('/api/studies/{study_id}/field-profiles', { params: { path }, body })
        : api.PUT('/api/studies/{study_id}/field-profiles/{profile_id}', {
            params: { path: { ...path, profile_id: profile.id } },
            body: { ...body, version: profile.version },
          }),
    );
  });
  const remove = useFieldChange(studyId, (id: number) =>
    ask(
      api.DELETE('/api/studies/{study_id}/field-profiles/{profile_id}', {
        params: { path: { ...path, profile_id: id } },
      }),
    ),
  );
  const initial: Values =
    profile === null
      ? { ...ORDINARY_PROFILE, name: '', teams: [] }
      : { ...profile.settings, name: profile.name, teams: profile.teams };
  const askFirst = (gone: Profile) => {
    void modal.confirm({
      title: t('field.removeProfile', { name: gone.name }),
      content: t('field.removeProfileWhat'),
      okText: t('field.remove'),
      okButtonProps: { danger: true },
      onOk: () => remove.mutateAsync(gone.id).then(onClose),
    });
  };
  return (
    <Modal
      open
      width={720}
      title={profile === null ? t('field.aNewProfile') : t('field.profileWhich', { name: profile.name })}
      onCancel={onClose}
      footer={
        <div className="row">
          {profile !== null && !profile.is_ordinary && (
            <Button
              danger
              type="text"
              onClick={() => {
                askFirst(profile);
              }}
            >
              {t('field.remove')}
            </Button>
          )}
          <span className="grow" />
          <Button onClick={onClose}>{t('common.cancel')}</Button>
          <Button
            type="primary"
            loading={save.isPending}
            onClick={() => {
              form.submit();
            }}
          >
            {t('field.keepProfile')}
          </Button>
        </div>
      }
    >
      <Form<Values>
        form={form}
        layout="vertical"
        requiredMark={false}
        initialValues={initial}
        className="profile-form"
        onFinish={(values) => {
          if (!save.isPending) save.mutate(values, { onSuccess: onClose });
        }}
      >
        <Form.Item name="name" label={t('field.profileName')} rules={[{ required: true, whitespace: true }]}>
          <Input maxLength={128} autoFocus={profile === null} />
        </Form.Item>
        <Form.Item name="teams" label={t('field.profileTeams')} tooltip={t('field.profileTeamsWhat')}>
          <Select mode="multiple" options={teams.map((team) => ({ value: team.id, label: team.name }))} />
        </Form.Item>
        <Form.Item name="page" label={t('field.settingPage')}>
          <Select options={optionsOf(PAGES)} />
        </Form.Item>
        <Form.Item name="turning" label={t('field.settingTurning')}>
          <Select options={optionsOf(TURNINGS)} />
        </Form.Item>
        <Form.Item name="goes_on" valuePropName="checked" className="whole">
          <Checkbox>{t('field.settingGoesOn')}</Checkbox>
        </Form.Item>
        <Form.Item name="photo_pixels" label={t('field.settingPixels')}>
          <InputNumber min={320} max={8000} step={160} suffix="px" />
        </Form.Item>
        <Form.Item name="photo_quality" label={t('field.settingQuality')}>
          <InputNumber min={30} max={100} step={5} suffix="%" />
        </Form.Item>
        <Form.Item name="sends" label={t('field.settingSends')}>
          <Select options={optionsOf(SENDS)} />
        </Form.Item>
        <Form.Item name="point_metres" label={t('field.settingPoints')}>
          <InputNumber min={1} max={1000} suffix="m" />
        </Form.Item>
        <Form.Item name="keeps" label={t('field.settingKeeps')}>
          <Select options={optionsOf(KEEPS)} />
        </Form.Item>
        <Form.Item name="keeps_days" label={t('field.settingDays')}>
          <InputNumber min={0} max={365} disabled={keeps === 'nothing'} suffix={t('field.daysUnit')} />
        </Form.Item>
        <Form.Item name="pin" valuePropName="checked" className="low">
          <Checkbox>{t('field.settingPin')}</Checkbox>
        </Form.Item>
        <Form.Item name="lock_minutes" label={t('field.settingLock')}>
          <InputNumber min={1} max={240} disabled={pin === false} suffix={t('field.minutesUnit')} />
        </Form.Item>
        <Form.Item name="languages" label={t('field.settingLanguages')} className="whole">
          <Select
            mode="tags"
            placeholder={t('field.allLanguages')}
            tokenSeparators={[',', ' ']}
            labelRender={({ value }) => languageName(String(value))}
          />
        </Form.Item>
        <Form.Item name="map_sheets" label={t('field.settingMaps')} className="whole">
          <Select
            mode="multiple"
            showSearch={{ optionFilterProp: 'label' }}
            options={(maps.data ?? []).map((sheet) => ({ value: sheet.id, label: sheet.name }))}
          />
        </Form.Item>
        <Form.Item name="help_name" label={t('field.settingHelp')}>
          <Input maxLength={128} />
        </Form.Item>
        <Form.Item name="help_phone" label={t('field.settingHelpPhone')}>
          <Input maxLength={40} inputMode="tel" />
        </Form.Item>
        <Form.Item name="practice" valuePropName="checked" className="whole">
          <Checkbox>{t('field.settingPractice')}</Checkbox>
        </Form.Item>
        {(save.error ?? remove.error) && (
          <Alert className="whole" type="error" showIcon title={(save.error ?? remove.error)?.message} />
        )}
      </Form>
    </Modal>
  );
}
