import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Alert, Button, Form, Input, Modal } from 'antd';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, ask } from '../../../shared/api/client';
import { EnterSubmits } from '../../ui/EnterSubmits';
import { Empty, Loaded } from '../../ui/states';
import './studies.css';
import { t } from '../../texts/texts';
import { useSession } from '../session/session';

export function Studies() {
  const studies = useQuery({ queryKey: ['studies'], queryFn: () => ask(api.GET('/api/studies')) });
  const [making, setMaking] = useState(false);
  const session = useSession();
  const make = session.data?.is_administrator === true && (
    <Button
      type="primary"
      onClick={() => {
        setMaking(true);
      }}
    >
      {t('studies.newStudy')}
    </Button>
  );
  return (
    <div className="page">
      <div className="page-head">
        <h1>{t('studies.studies')}</h1>
        <span className="grow" />
        {make}
      </div>
      <Loaded query={studies}>
        {(found) =>
          found.length === 0 ? (
            <Empty title={t('studies.noStudiesYet')} action={make || undefined}>
              {make ? t('studies.studyHoldsQuestionnaireIts') : t('studies.askToBeTakenIn')}
            </Empty>
          ) : (
            <div className="sheet lines">
              {found.map((study) => (
                <Link key={study.id} className="study-line" to={`/studies/${String(study.id)}`}>
                  <b>{study.title}</b>
                  <span className="muted clip">{study.purpose}</span>
                  <span className="figure">{t('common.interviewCount', { count: study.interviews })}</span>
                </Link>
              ))}
            </div>
          )
        }
      </Loaded>
      {making && (
        <NewStudy
          onClose={() => {
            setMaking(false);
          }}
        />
      )}
    </div>
  );
}

interface NewStudyForm {
  title: string;
  purpose?: string;
  manager?: string;
}

function NewStudy({ onClose }: { onClose: () => void }) {
  const [form] = Form.useForm<NewStudyForm>();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const make = useMutation({
    mutationFn: ({ title, purpose = '', manager = '' }: NewStudyForm) =>
      ask(
        api.POST('/api/studies', {
          body: {
            title,
            purpose,
            population: '',
            strips_location: false,
            tells_contact: false,
            two_sign: false,
            rounds: [],
            data_manager: manager.trim(),
            time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
          },
        }),
      ),
    onSuccess: (study) => {
      void queries.invalidateQueries({ queryKey: ['studies'] });
      // Whoever made it for somebody else has nothing to do there.
      if (study.permissions.length > 0) void navigate(`/studies/${String(study.id)}/questionnaire`);
      else onClose();
    },
  });
  return (
    <Modal
      open
      title={t('studies.newStudy')}
      okText={t('studies.make')}
      onCancel={onClose}
      onOk={() => {
        form.submit();
      }}
      confirmLoading={make.isPending}
    >
      <Form
        form={form}
        layout="vertical"
        requiredMark={false}
        onFinish={(values) => {
          if (!make.isPending) make.mutate(values);
        }}
      >
        <Form.Item
          name="title"
          label={t('common.title')}
          rules={[{ required: true, whitespace: true, message: t('studies.studyNeedsTitle') }]}
        >
          <Input autoFocus />
        </Form.Item>
        <Form.Item name="purpose" label={t('studies.what')}>
          <Input.TextArea rows={3} />
        </Form.Item>
        <Form.Item name="manager" label={t('studies.whoManages')} extra={t('studies.whoManagesExtra')}>
          <Input autoComplete="off" />
        </Form.Item>
        <EnterSubmits />
      </Form>
      {make.error && <Alert type="error" showIcon title={make.error.message} />}
    </Modal>
  );
}
