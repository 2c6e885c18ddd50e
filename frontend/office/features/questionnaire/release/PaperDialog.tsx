import { useMutation, useQuery } from '@tanstack/react-query';
import { Alert, Button, InputNumber, Modal, Select } from 'antd';
import { useState } from 'react';
import { api, ask } from '../../../../shared/api/client';
import { languageName } from '../../../../shared/interview/languages';
import { t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';

const DRAFT = 0;

/** The questionnaire as a PDF to be filled in with a pen. */
export function PaperDialog({
  questionnaireId,
  languages,
  blocked,
  onClose,
}: {
  questionnaireId: number;
  languages: string[];
  /** Why the draft cannot be printed; empty where it can. */
  blocked: string;
  onClose: () => void;
}) {
  const [language, setLanguage] = useState(languages[0] ?? 'en');
  const path = { questionnaire_id: questionnaireId };
  const releases = useQuery({
    queryKey: ['releases', questionnaireId],
    queryFn: () => ask(api.GET('/api/questionnaires/{questionnaire_id}/releases', { params: { path } })),
  });
  const [chosen, setChosen] = useState<number | null>(null);
  const release = chosen ?? releases.data?.[0]?.number ?? DRAFT;
  const [rows, setRows] = useState(8);
  const [ordered, setOrdered] = useState<number | null>(null);
  const print = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/papers', {
          params: { path },
          body: { language, rows, release: release === DRAFT ? null : release },
        }),
      ),
    onSuccess: (job) => {
      setOrdered(job.id);
    },
  });
  const job = useQuery({
    queryKey: ['job', ordered],
    queryFn: () => ask(api.GET('/api/jobs/{job_id}', { params: { path: { job_id: ordered ?? 0 } } })),
    enabled: ordered !== null,
    refetchInterval: (query) => (isUnderWay(query.state.data?.state) ? 500 : false),
  });
  const done = job.data?.state === 'done' ? job.data : null;
  const working = print.isPending || (ordered !== null && isUnderWay(job.data?.state));
  const open = useMutation({
    mutationFn: async () => {
      const content = await ask(
        api.GET('/api/jobs/{job_id}/file', { params: { path: { job_id: done?.id ?? 0 } }, parseAs: 'blob' }),
      );
      window.open(URL.createObjectURL(new Blob([content], { type: 'application/pdf' })), '_blank');
    },
  });
  const problem = print.error ?? open.error;
  /** What was made belongs to what was chosen. */
  const change = (set: () => void) => {
    setOrdered(null);
    set();
  };
  const isBlocked = release === DRAFT && blocked !== '';
  return (
    <Modal open title={t('paper.title')} footer={null} onCancel={onClose}>
      <p className="muted">{t('paper.what')}</p>
      <div className="paper-choices">
        <label>
          <span>{t('paper.of')}</span>
          <Select
            value={release}
            options={[
              { value: DRAFT, label: t('paper.draft') },
              ...(releases.data ?? []).map((r) => ({
                value: r.number,
                label: t('questionnaire.release', { number: r.number }),
              })),
            ]}
            onChange={(number) => {
              change(() => {
                setChosen(number);
              });
            }}
          />
        </label>
        <label>
          <span>{t('paper.language')}</span>
          <Select
            value={language}
            options={languages.map((tag) => ({ value: tag, label: languageName(tag) }))}
            onChange={(tag) => {
              change(() => {
                setLanguage(tag);
              });
            }}
          />
        </label>
        <label>
          <span>{t('paper.rows')}</span>
          <InputNumber
            min={1}
            max={40}
            value={rows}
            onChange={(n) => {
              change(() => {
                setRows(n ?? 8);
              });
            }}
          />
        </label>
      </div>
      {isBlocked && <Alert type="warning" title={blocked} />}
      {problem && <Alert type="error" showIcon title={messageOf(problem)} />}
      {job.data?.state === 'failed' && <Alert type="error" showIcon title={job.data.problem} />}
      <div className="row paper-made">
        {done === null ? (
          <Button
            type="primary"
            disabled={isBlocked}
            loading={working}
            onClick={() => {
              if (!working) print.mutate();
            }}
          >
            {working ? t('paper.making') : t('paper.make')}
          </Button>
        ) : (
          <>
            <Button
              type="primary"
              loading={open.isPending}
              onClick={() => {
                open.mutate();
              }}
            >
              {t('paper.open')}
            </Button>
            <Button href={`/api/jobs/${String(done.id)}/file`} download>
              {t('paper.save')}
            </Button>
          </>
        )}
      </div>
    </Modal>
  );
}

const isUnderWay = (state: string | undefined): boolean =>
  state === undefined || state === 'waiting' || state === 'running';
