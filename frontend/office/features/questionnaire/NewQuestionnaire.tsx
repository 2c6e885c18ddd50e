import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Alert, Button, Form, Input, Select } from 'antd';
import { useNavigate } from 'react-router';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { languageName } from '../../../shared/interview/languages';
import { t } from '../../texts/texts';
import { rememberQuestionnaire, useMay, useStudy } from '../../ui/study';
import { Empty } from '../../ui/states';

/** Another questionnaire, or the study's first one: its title and languages, then the empty page. */
export function NewQuestionnaire() {
  const study = useStudy();
  const may = useMay();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const make = useMutation({
    mutationFn: (body: Schemas['QuestionnaireIn']) =>
      ask(api.POST('/api/studies/{study_id}/questionnaires', { params: { path: { study_id: study.id } }, body })),
    onSuccess: async (made) => {
      rememberQuestionnaire(study.id, made.id);
      await queries.invalidateQueries({ queryKey: ['study', study.id] });
      void navigate(`/studies/${String(study.id)}/questionnaire?questionnaire=${String(made.id)}`, { replace: true });
    },
  });
  if (!may('script.write'))
    return (
      <div className="page">
        <Empty title={t('questionnaire.questionnaireNotWrittenYet')} />
      </div>
    );
  return (
    <div className="page narrow">
      <div className="page-head">
        <h1>{study.questionnaires.length === 0 ? t('common.questionnaire') : t('questionnaire.another')}</h1>
      </div>
      <div className="sheet pad">
        <Form<Schemas['QuestionnaireIn']>
          layout="vertical"
          requiredMark={false}
          initialValues={{ title: study.questionnaires.length === 0 ? study.title : '', languages: ['en'] }}
          onFinish={(values) => {
            if (!make.isPending) make.mutate(values);
          }}
        >
          <Form.Item
            name="title"
            label={t('common.title')}
            rules={[{ required: true, whitespace: true, message: t('questionnaire.needsTitle') }]}
          >
            <Input autoFocus />
          </Form.Item>
          <Form.Item
            name="languages"
            label={t('questionnaire.languagesFirstOneFirst')}
            rules={[{ required: true, message: t('questionnaire.leastOne') }]}
          >
            <Select
              mode="tags"
              options={['en', 'fr', 'ar', 'es', 'pt', 'sw'].map((tag) => ({
                value: tag,
                label: `${languageName(tag)} (${tag})`,
              }))}
            />
          </Form.Item>
          {make.error && <Alert type="error" showIcon title={make.error.message} style={{ marginBottom: 12 }} />}
          <Button type="primary" htmlType="submit" loading={make.isPending}>
            {t('questionnaire.begin')}
          </Button>
        </Form>
      </div>
    </div>
  );
}
