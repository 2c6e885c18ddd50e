import { Alert, Form, Input, InputNumber, Modal, Select } from 'antd';
import { api, ask } from '../../../../shared/api/client';
import { languageName } from '../../../../shared/interview/languages';
import { t } from '../../../texts/texts';
import { useStudy } from '../../../ui/study';
import { useFieldChange } from '../phones';
import type { Batch } from './paper';

interface Props {
  studyId: number;
  /** The batch to change; null for a new one. */
  batch: Batch | null;
  onClose: () => void;
}

interface Values {
  name: string;
  questionnaire_id: number;
  release: number | null;
  language: string;
  received: number;
  twice: number;
  signed_name: string;
  signed_on: string;
}

/** What came in, how much of it is keyed twice, and whose signature stands on it. */
export function BatchDialog({ studyId, batch, onClose }: Props) {
  const study = useStudy();
  const [form] = Form.useForm<Values>();
  const released = study.questionnaires.filter((q) => q.releases > 0);
  const asked = Form.useWatch('questionnaire_id', form) as number | undefined;
  const questionnaire = released.find((q) => q.id === asked) ?? released[0];
  const save = useFieldChange(studyId, (values: Values) => {
    const change = {
      name: values.name,
      received: values.received,
      twice: values.twice,
      signed: values.signed_name.trim() === '' ? null : { name: values.signed_name.trim(), on: values.signed_on },
      version: batch?.version ?? 0,
    };
    return ask(
      batch === null
        ? api.POST('/api/studies/{study_id}/batches', {
            params: { path: { study_id: studyId } },
            body: {
              ...change,
              questionnaire_id: values.questionnaire_id,
              release: values.release,
              language: values.language,
            },
          })
        : api.PUT('/api/batches/{batch_id}', { params: { path: { batch_id: batch.id } }, body: change }),
    );
  });
  const signs = Form.useWatch('signed_name', form) as string | undefined;
  return (
    <Modal
      open
      width={640}
      title={batch === null ? t('keying.aNewBatch') : t('keying.batchWhich', { name: batch.name })}
      okText={t('keying.keep')}
      okButtonProps={{ disabled: batch === null && questionnaire === undefined }}
      confirmLoading={save.isPending}
      onCancel={onClose}
      onOk={() => {
        form.submit();
      }}
    >
      {batch === null && questionnaire === undefined && (
        <Alert type="warning" showIcon title={t('keying.nothingReleased')} />
      )}
      <Form<Values>
        form={form}
        layout="vertical"
        requiredMark={false}
        className="profile-form"
        initialValues={{
          name: batch?.name ?? '',
          questionnaire_id: questionnaire?.id,
          release: null,
          language: questionnaire?.languages[0],
          received: batch?.received,
          twice: batch?.twice ?? 100,
          signed_name: batch?.signed?.name ?? '',
          signed_on: batch?.signed?.on ?? new Date().toISOString().slice(0, 10),
        }}
        onFinish={(values) => {
          if (!save.isPending) save.mutate(values, { onSuccess: onClose });
        }}
      >
        <Form.Item
          name="name"
          label={t('keying.batchName')}
          rules={[{ required: true, whitespace: true, message: t('keying.nameNeeded') }]}
        >
          <Input maxLength={64} autoFocus placeholder={t('keying.nameExample')} />
        </Form.Item>
        <Form.Item
          name="received"
          label={t('keying.receivedPapers')}
          rules={[{ required: true, message: t('keying.receivedNeeded') }]}
        >
          <InputNumber min={1} precision={0} />
        </Form.Item>
        {batch === null && (
          <>
            <Form.Item name="questionnaire_id" label={t('common.questionnaire')} hidden={released.length < 2}>
              <Select options={released.map((q) => ({ value: q.id, label: q.title }))} />
            </Form.Item>
            <Form.Item name="release" label={t('keying.printedRelease')} tooltip={t('keying.printedReleaseMeans')}>
              <InputNumber min={1} max={questionnaire?.releases} precision={0} placeholder={t('keying.newest')} />
            </Form.Item>
            <Form.Item name="language" label={t('keying.language')}>
              <Select
                options={(questionnaire?.languages ?? []).map((tag) => ({ value: tag, label: languageName(tag) }))}
              />
            </Form.Item>
          </>
        )}
        <Form.Item name="twice" label={t('keying.twice')} tooltip={t('keying.twiceMeans')}>
          <InputNumber min={0} max={100} step={10} suffix="%" />
        </Form.Item>
        <Form.Item name="signed_name" label={t('keying.signedBy')} tooltip={t('keying.signedMeans')}>
          <Input maxLength={128} />
        </Form.Item>
        <Form.Item name="signed_on" label={t('keying.signedOn')}>
          <Input type="date" disabled={(signs ?? '').trim() === ''} />
        </Form.Item>
      </Form>
      {save.error && <Alert type="error" showIcon title={save.error.message} />}
    </Modal>
  );
}
