import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Alert, App, Button, Checkbox, Form, Input, Select } from 'antd';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { useStudy } from '../../ui/StudyFrame';
import { useMay } from '../session/session';

/** The study's facts. */
export default function Plan() {
  const study = useStudy();
  const may = useMay();
  const queries = useQueryClient();
  const { message } = App.useApp();
  const save = useMutation({
    mutationFn: (body: Schemas['StudyIn']) =>
      ask(api.PUT('/api/studies/{study_id}', { params: { path: { study_id: study.id } }, body })),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ['study', study.id] });
      void message.success('Kept');
    },
  });
  const zones = Intl.supportedValuesOf('timeZone').map((zone) => ({ value: zone, label: zone }));
  return (
    <div className="page narrow">
      <div className="page-head">
        <h1>Plan</h1>
        <span className="muted">what the study is for and whom it asks</span>
      </div>
      <div className="sheet pad">
        <Form<Schemas['StudyIn']>
          key={study.id}
          layout="vertical"
          disabled={!may('study.write')}
          initialValues={study}
          requiredMark={false}
          onFinish={({ title, purpose, population, time_zone, strips_location }) => {
            save.mutate({ title, purpose, population, time_zone, strips_location });
          }}
        >
          <Form.Item
            name="title"
            label="Title"
            rules={[{ required: true, whitespace: true, message: 'A study needs a title' }]}
          >
            <Input />
          </Form.Item>
          <Form.Item name="purpose" label="Purpose">
            <Input.TextArea autoSize={{ minRows: 2 }} />
          </Form.Item>
          <Form.Item name="population" label="Population">
            <Input.TextArea autoSize={{ minRows: 2 }} placeholder="Whom the figures are about" />
          </Form.Item>
          <Form.Item name="time_zone" label="Time zone of the field" extra="All times at the desk are shown in it.">
            <Select showSearch options={[{ value: 'UTC', label: 'UTC' }, ...zones]} />
          </Form.Item>
          <Form.Item name="strips_location" label="Pictures" valuePropName="checked">
            <Checkbox>Hand photos on without the place where they were taken</Checkbox>
          </Form.Item>
          {save.error && <Alert type="error" showIcon title={save.error.message} style={{ marginBottom: 12 }} />}
          {may('study.write') && (
            <Button type="primary" htmlType="submit" loading={save.isPending}>
              Keep
            </Button>
          )}
        </Form>
      </div>
    </div>
  );
}
