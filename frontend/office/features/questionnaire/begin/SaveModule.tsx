import { useMutation, useQueryClient } from '@tanstack/react-query';
import { App, Form, Input, Modal } from 'antd';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';

interface Props {
  studyId: number;
  fragment: Schemas['Fragment'];
  title: string;
  onClose: () => void;
}

/** The chosen lines put on the study's shelf, with what somebody needs to know who wonders whether to take them. */
export function SaveModule({ studyId, fragment, title, onClose }: Props) {
  const { message } = App.useApp();
  const [form] = Form.useForm<Omit<Schemas['ModuleIn'], 'fragment'>>();
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: (said: Omit<Schemas['ModuleIn'], 'fragment'>) =>
      ask(
        api.POST('/api/studies/{study_id}/modules', {
          params: { path: { study_id: studyId } },
          body: { ...said, fragment },
        }),
      ),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ['modules', studyId] });
      message.success(t('questionnaire.moduleSaved'));
      onClose();
    },
    onError: (error) => message.error(messageOf(error)),
  });
  return (
    <Modal
      open
      title={t('questionnaire.moduleSaveTitle', { count: fragment.parts.length })}
      okText={t('questionnaire.moduleSave')}
      confirmLoading={save.isPending}
      onCancel={onClose}
      onOk={() => {
        form.submit();
      }}
    >
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        initialValues={{ title, measures: '', source: '', tested: '' }}
        onFinish={(said) => {
          if (!save.isPending) save.mutate(said);
        }}
      >
        <Form.Item
          name="title"
          label={t('common.title')}
          rules={[{ required: true, whitespace: true, message: t('questionnaire.needsTitle') }]}
        >
          <Input autoFocus />
        </Form.Item>
        <Form.Item name="measures" label={t('questionnaire.moduleMeasures')}>
          <Input.TextArea autoSize />
        </Form.Item>
        <Form.Item name="source" label={t('questionnaire.moduleSource')}>
          <Input.TextArea autoSize />
        </Form.Item>
        <Form.Item name="tested" label={t('questionnaire.moduleTested')}>
          <Input.TextArea autoSize />
        </Form.Item>
      </Form>
    </Modal>
  );
}
