import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Alert, App, Button, Checkbox, Form, Input, Select } from 'antd';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useMay, useStudy } from '../../ui/study';
import { t } from '../../texts/texts';

/** The study's facts. */
export default function StudyFacts() {
  const study = useStudy();
  const may = useMay();
  const queries = useQueryClient();
  const { message } = App.useApp();
  const save = useMutation({
    mutationFn: (body: Schemas['StudyChange']) =>
      ask(api.PUT('/api/studies/{study_id}', { params: { path: { study_id: study.id } }, body })),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ['study', study.id] });
      void message.success(t('common.kept'));
    },
  });
  const zones = Intl.supportedValuesOf('timeZone').map((zone) => ({ value: zone, label: zone }));
  return (
    <div className="narrow">
      <div className="sheet pad">
        <Form<Schemas['StudyChange']>
          key={study.id}
          layout="vertical"
          disabled={!may('study.write')}
          initialValues={study}
          requiredMark={false}
          onFinish={({ title, purpose, population, time_zone, strips_location, tells_contact, two_sign, rounds }) => {
            save.mutate({
              title,
              purpose,
              population,
              time_zone,
              strips_location,
              tells_contact,
              two_sign,
              rounds: rounds ?? [],
              version: study.version,
            });
          }}
        >
          <Form.Item
            name="title"
            label={t('common.title')}
            rules={[{ required: true, whitespace: true, message: t('studies.studyNeedsTitle') }]}
          >
            <Input />
          </Form.Item>
          <Form.Item name="purpose" label={t('studies.purpose')}>
            <Input.TextArea autoSize={{ minRows: 2 }} />
          </Form.Item>
          <Form.Item name="population" label={t('studies.population')}>
            <Input.TextArea autoSize={{ minRows: 2 }} placeholder={t('studies.whomFiguresAbout')} />
          </Form.Item>
          <Form.Item name="time_zone" label={t('studies.timeZoneField')} extra={t('studies.allTimesDeskShown')}>
            <Select showSearch options={[{ value: 'UTC', label: 'UTC' }, ...zones]} />
          </Form.Item>
          <Form.Item label={t('studies.rounds')} extra={t('studies.roundsWhat')}>
            <Rounds />
          </Form.Item>
          <Form.Item name="strips_location" label={t('studies.pictures')} valuePropName="checked">
            <Checkbox>{t('studies.handPhotosWithoutPlace')}</Checkbox>
          </Form.Item>
          <Form.Item name="tells_contact" label={t('studies.enumerators')} valuePropName="checked">
            <Checkbox>{t('studies.contactAsParadata')}</Checkbox>
          </Form.Item>
          <Form.Item name="two_sign" label={t('studies.releases')} valuePropName="checked">
            <Checkbox>{t('studies.twoSign')}</Checkbox>
          </Form.Item>
          {save.error && <Alert type="error" showIcon title={save.error.message} style={{ marginBottom: 12 }} />}
          {may('study.write') && (
            <Button type="primary" htmlType="submit" loading={save.isPending}>
              {t('studies.keep')}
            </Button>
          )}
        </Form>
      </div>
    </div>
  );
}

/** The rounds of the study, a line each. */
function Rounds() {
  return (
    <Form.List name="rounds">
      {(fields, { add, remove }) => (
        <div className="rounds">
          {fields.map(({ key, name }) => (
            <div key={key} className="row">
              <Form.Item
                noStyle
                name={[name, 'name']}
                rules={[{ required: true, whitespace: true, message: t('studies.roundNeedsName') }]}
              >
                <Input maxLength={64} aria-label={t('studies.roundName')} placeholder={t('studies.roundName')} />
              </Form.Item>
              <Form.Item
                noStyle
                name={[name, 'begins']}
                rules={[{ required: true, message: t('studies.roundNeedsDay') }]}
              >
                <Input type="date" aria-label={t('studies.roundBegins')} />
              </Form.Item>
              <Button
                type="text"
                aria-label={t('studies.removeRound')}
                onClick={() => {
                  remove(name);
                }}
              >
                ×
              </Button>
            </div>
          ))}
          <Button
            onClick={() => {
              add({ name: t('studies.roundNumber', { n: fields.length + 1 }), begins: '' });
            }}
          >
            {t('studies.addRound')}
          </Button>
        </div>
      )}
    </Form.List>
  );
}
