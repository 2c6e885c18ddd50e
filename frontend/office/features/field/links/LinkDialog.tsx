import { Alert, Checkbox, Form, Input, InputNumber, Modal, Radio, Select } from 'antd';
import { useState } from 'react';
import { api, ask } from '../../../../shared/api/client';
import { languageName } from '../../../../shared/interview/languages';
import { t } from '../../../texts/texts';
import { clockAt, momentAt, offsetOf } from '../../../ui/moments';
import { useStudy } from '../../../ui/study';
import { useFieldChange } from '../phones';
import { ENTRIES, ENTRY_MEANS, useReadyTexts, type Entry, type Link, type Texts } from './links';

interface Props {
  studyId: number;
  /** The link to change; null for a new one. */
  link: Link | null;
  onMade?: (link: Link) => void;
  onClose: () => void;
}

interface Values {
  questionnaire_id: number;
  entry: Entry;
  title: string;
  closes_at: string;
  most: number | null;
  once: boolean;
}

const NO_TEXTS: Texts = { welcome: '', thanks: '', subject: '', letter: '', reminder: '' };

/** What a link asks, of whom, until when, and what it says. */
export function LinkDialog({ studyId, link, onMade, onClose }: Props) {
  const study = useStudy();
  const zone = study.time_zone;
  const [form] = Form.useForm<Values>();
  const released = study.questionnaires.filter((q) => q.releases > 0);
  const first = released[0] ?? study.questionnaires[0];
  const entry = (Form.useWatch('entry', form) as Entry | undefined) ?? link?.entry ?? 'open';
  const asked = (Form.useWatch('questionnaire_id', form) as number | undefined) ?? link?.questionnaire_id ?? first?.id;
  const languages = link?.languages ?? study.questionnaires.find((q) => q.id === asked)?.languages ?? ['en'];
  const [texts, setTexts] = useState<Record<string, Texts>>(link?.texts ?? {});
  const save = useFieldChange(studyId, (values: Values) => {
    const { questionnaire_id: questionnaire, entry: who, closes_at: closes, ...rest } = values;
    const change = {
      ...rest,
      most: rest.most ?? null,
      closes_at: closes === '' ? null : momentAt(zone, closes),
      texts,
      version: link?.version ?? 0,
    };
    return ask(
      link === null
        ? api.POST('/api/studies/{study_id}/links', {
            params: { path: { study_id: studyId } },
            body: { ...change, questionnaire_id: questionnaire, entry: who },
          })
        : api.PUT('/api/links/{link_id}', { params: { path: { link_id: link.id } }, body: change }),
    );
  });
  return (
    <Modal
      open
      width={720}
      title={link === null ? t('links.aNewLink') : t('links.linkWhich', { title: link.title })}
      okText={link === null ? t('links.makeIt') : t('links.keep')}
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
        className="profile-form"
        initialValues={{
          questionnaire_id: link?.questionnaire_id ?? first?.id,
          entry: link?.entry ?? 'open',
          title: link?.title ?? '',
          closes_at: link?.closes_at == null ? '' : clockAt(zone, link.closes_at),
          most: link?.most ?? null,
          once: link?.once ?? false,
        }}
        onFinish={(values) => {
          if (save.isPending) return;
          save.mutate(values, {
            onSuccess: (made) => {
              onClose();
              onMade?.(made);
            },
          });
        }}
      >
        <Form.Item
          name="title"
          label={t('links.title')}
          tooltip={t('links.titleMeans')}
          rules={[{ required: true, whitespace: true, message: t('links.titleNeeded') }]}
        >
          <Input maxLength={100} autoFocus />
        </Form.Item>
        <Form.Item name="questionnaire_id" label={t('common.questionnaire')} hidden={study.questionnaires.length < 2}>
          <Select
            disabled={link !== null}
            options={study.questionnaires.map((q) => ({ value: q.id, label: q.title }))}
          />
        </Form.Item>
        <Form.Item name="entry" label={t('links.entry')} className="whole" extra={ENTRY_MEANS[entry]}>
          <Radio.Group
            disabled={link !== null}
            optionType="button"
            options={(Object.keys(ENTRIES) as Entry[]).map((value) => ({ value, label: ENTRIES[value] }))}
          />
        </Form.Item>
        <Form.Item name="closes_at" label={t('links.closesAt')}>
          <Input type="datetime-local" suffix={offsetOf(zone)} />
        </Form.Item>
        <Form.Item name="most" label={t('links.most')} tooltip={t('links.mostMeans')}>
          <InputNumber min={1} precision={0} placeholder={t('links.anyNumber')} />
        </Form.Item>
        {entry !== 'personal' && (
          <Form.Item name="once" valuePropName="checked" className="whole">
            <Checkbox>{entry === 'open' ? t('links.onceBrowser') : t('links.oncePerson')}</Checkbox>
          </Form.Item>
        )}
      </Form>
      <TextsOf
        studyId={studyId}
        languages={languages}
        isSent={entry === 'personal'}
        texts={texts}
        onChange={setTexts}
      />
      {save.error && <Alert type="error" showIcon title={save.error.message} />}
    </Modal>
  );
}

/** What the link says in each language; where nothing is written, the ready text is shown and used. */
function TextsOf({
  studyId,
  languages,
  isSent,
  texts,
  onChange,
}: {
  studyId: number;
  languages: string[];
  isSent: boolean;
  texts: Record<string, Texts>;
  onChange: (texts: Record<string, Texts>) => void;
}) {
  const [wished, setWished] = useState('');
  const language = languages.includes(wished) ? wished : (languages[0] ?? 'en');
  const ready = useReadyTexts(studyId, language);
  const own = texts[language] ?? NO_TEXTS;
  const names: (keyof Texts)[] = isSent
    ? ['welcome', 'thanks', 'subject', 'letter', 'reminder']
    : ['welcome', 'thanks'];
  return (
    <fieldset className="link-texts">
      <legend>
        {t('links.says')}
        {languages.length > 1 && (
          <Radio.Group
            size="small"
            optionType="button"
            aria-label={t('links.inLanguage')}
            value={language}
            options={languages.map((tag) => ({ value: tag, label: languageName(tag) }))}
            onChange={(event) => {
              setWished(String(event.target.value));
            }}
          />
        )}
      </legend>
      {isSent && <p className="muted small">{t('links.fillsIn')}</p>}
      {names.map((name) => (
        <label key={name} className="link-text-field">
          {TEXT_WORDS[name]}
          <Input.TextArea
            autoSize={{ minRows: name === 'subject' ? 1 : 2, maxRows: 10 }}
            dir="auto"
            placeholder={ready.data?.[name] ?? ''}
            value={own[name]}
            onChange={(event) => {
              const value = name === 'subject' ? event.target.value.replace(/\s*\n\s*/g, ' ') : event.target.value;
              onChange({ ...texts, [language]: { ...own, [name]: value } });
            }}
          />
        </label>
      ))}
    </fieldset>
  );
}

const TEXT_WORDS: Record<keyof Texts, string> = {
  welcome: t('links.welcome'),
  thanks: t('links.thanks'),
  subject: t('links.subject'),
  letter: t('links.letter'),
  reminder: t('links.reminder'),
};
