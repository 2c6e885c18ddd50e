import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Alert, App, Input, Modal, Radio, type RadioChangeEvent } from 'antd';
import { useState } from 'react';
import { api, ask, type Schemas } from '../../../../shared/api/client';
import { sizeWords, useShelf, type ShelfFile } from '../media/useShelf';
import type { Finding, Script } from '../script/model';
import { t } from '../../../texts/texts';
import { useStudy } from '../../../ui/study';
import { useTests } from '../rehearsal/TestsTab';

interface Props {
  draft: Schemas['Draft'];
  version: number;
  waiting: boolean;
  number: number;
  errors: Finding[];
  script: Script;
  /** Whether the newest release, one for practice, has the same content. */
  same: boolean;
  onReleased: () => void;
  onClose: () => void;
  onGo: (id: string, field: string) => void;
}

/** Freezing the script as a numbered release; while it has errors, their list instead. */
export function ReleaseDialog({
  draft,
  version,
  waiting,
  number,
  errors,
  script,
  same,
  onReleased,
  onClose,
  onGo,
}: Props) {
  const [remark, setRemark] = useState('');
  // What is the same as the newest one can only go out for the field, where that was for practice.
  const [practice, setPractice] = useState(false);
  const study = useStudy();
  const queries = useQueryClient();
  const { message } = App.useApp();
  const release = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/questionnaires/{questionnaire_id}/releases', {
          params: { path: { questionnaire_id: draft.id } },
          body: { version, remark, practice },
        }),
      ),
    onSuccess: (made) => {
      void message.success(
        made.awaits
          ? t('releases.madeAwaits', { number: made.number })
          : t('questionnaire.releaseOutPhonesFetch', { number: made.number }),
      );
      void queries.invalidateQueries({ queryKey: ['releases', draft.id] });
      void queries.invalidateQueries({ queryKey: ['draft', draft.id] });
      void queries.invalidateQueries({ queryKey: ['study', draft.study_id] });
      onReleased();
      onClose();
    },
  });
  return (
    <Modal
      open
      title={t('questionnaire.release', { number })}
      okText={t('common.release')}
      okButtonProps={{ disabled: errors.length > 0 || waiting }}
      confirmLoading={release.isPending}
      onCancel={onClose}
      onOk={() => {
        if (!release.isPending) release.mutate();
      }}
    >
      {errors.length > 0 ? (
        <>
          <p>
            {t('questionnaire.scriptHasErrorsMend', {
              count: errors.length,
            })}
          </p>
          <div className="findings">
            {errors.map((f, i) => {
              const part = f.line == null ? undefined : script.parts[f.line];
              return (
                <button
                  key={i}
                  type="button"
                  onClick={() => {
                    if (part) onGo(part.id, f.field);
                    else onClose();
                  }}
                >
                  <span>
                    <code>{part?.variable ?? f.code_list}</code> {f.message} <b>{f.mend}</b>
                  </span>
                </button>
              );
            })}
          </div>
        </>
      ) : (
        <>
          <p>{t('questionnaire.releaseNeverChangesInterviews')}</p>
          <Radio.Group
            className="release-for"
            value={practice}
            onChange={(event: RadioChangeEvent) => {
              setPractice(event.target.value === true);
            }}
          >
            <Radio value={false}>
              {t('releases.forField')}{' '}
              {study.two_sign && <span className="muted small">{t('releases.forFieldSigned')}</span>}
            </Radio>
            <Radio value disabled={same}>
              {t('releases.forPractice')} <span className="muted small">{t('releases.forPracticeWhat')}</span>
            </Radio>
          </Radio.Group>
          <MediaAlong studyId={draft.study_id} questionnaireId={draft.id} />
          {!waiting && <Trials questionnaireId={draft.id} released={draft.newest_release != null} />}
          <Input.TextArea
            autoFocus
            rows={2}
            placeholder={t('questionnaire.whatNew')}
            value={remark}
            onChange={(event) => {
              setRemark(event.target.value);
            }}
          />
        </>
      )}
      {release.error && <Alert type="error" showIcon title={release.error.message} style={{ marginTop: 12 }} />}
    </Modal>
  );
}

/** The files of the shelf that go along, and what making pictures small saves each phone. */
function MediaAlong({ studyId, questionnaireId }: { studyId: number; questionnaireId: number }) {
  const { shelf } = useShelf(studyId);
  const own = (entry: { uses: Schemas['UseOut'][] }) => entry.uses.some((u) => u.questionnaire_id === questionnaireId);
  const files = shelf.data?.files.filter(own) ?? [];
  const missing = shelf.data?.missing.filter(own).length ?? 0;
  if (files.length + missing === 0) return null;
  const sum = (size: (file: ShelfFile) => number) => files.reduce((total, file) => total + size(file), 0);
  const [whole, phones] = [sum((f) => f.bytes), sum((f) => f.phone_bytes)];
  return (
    <p>
      {t('media.goAlong', { count: files.length, size: sizeWords(phones) })}{' '}
      {whole > phones && t('media.saved', { saved: sizeWords(whole - phones) })}{' '}
      {missing > 0 && <b className="doubt">{t('media.lacking', { count: missing })}</b>}
    </p>
  );
}

/** What the test interviews and the data already collected make of this release. */
function Trials({ questionnaireId, released }: { questionnaireId: number; released: boolean }) {
  const path = { questionnaire_id: questionnaireId };
  const tests = useTests(questionnaireId);
  const compared = useQuery({
    queryKey: ['comparison', questionnaireId, 'release'],
    queryFn: () => ask(api.GET('/api/questionnaires/{questionnaire_id}/comparison', { params: { path, query: {} } })),
    enabled: released,
    gcTime: 0,
    staleTime: 0,
  });
  const all = tests.data?.tests ?? [];
  const changed = all.filter((test) => test.changed != null).length;
  const effects = compared.data?.comparison.changes.map((c) => c.effect) ?? [];
  const count = (effect: string) => effects.filter((e) => e === effect).length;
  return (
    <>
      {all.length > 0 && (
        <p>
          {t('questionnaire.testsGoThroughRelease', { tests: all.length - changed, all: all.length })}
          {changed > 0 && ` ${t('questionnaire.seeOtherTests')}`}
        </p>
      )}
      {compared.data && effects.length > 0 && (
        <p>
          {t('questionnaire.changesSinceRelease', { count: effects.length, release: compared.data.release })}{' '}
          {count('breaks') > 0 && (
            <b className="bad">{t('questionnaire.breakWhatWasCollected', { breaks: count('breaks') })} </b>
          )}
          {t('questionnaire.narrowerWiderWithoutEffect', {
            narrower: count('narrower'),
            wider: count('wider'),
            none: count('none'),
          })}
        </p>
      )}
    </>
  );
}
