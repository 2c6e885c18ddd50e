import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Alert, App, Input, Modal } from 'antd';
import { useState } from 'react';
import { api, ask, type Schemas } from '../../../shared/api/client';
import type { Finding, Script } from './model';

interface Props {
  draft: Schemas['Draft'];
  version: number;
  waiting: boolean;
  number: number;
  errors: Finding[];
  script: Script;
  onReleased: () => void;
  onClose: () => void;
  onGo: (id: string, field: string) => void;
}

/** Freezing the script as a numbered release; while it has errors, their list instead. */
export function ReleaseDialog({ draft, version, waiting, number, errors, script, onReleased, onClose, onGo }: Props) {
  const [remark, setRemark] = useState('');
  const queries = useQueryClient();
  const { message } = App.useApp();
  const release = useMutation({
    mutationFn: () => ask(api.POST('/api/questionnaires/{questionnaire_id}/releases', { params: { path: { questionnaire_id: draft.id } }, body: { version, remark } })),
    onSuccess: (made) => {
      void message.success(`Release ${String(made.number)} is out. Phones fetch it when they next reach the server.`);
      void queries.invalidateQueries({ queryKey: ['draft', draft.id] });
      void queries.invalidateQueries({ queryKey: ['study', draft.study_id] });
      onReleased();
      onClose();
    },
  });
  return (
    <Modal
      open
      title={`Release ${String(number)}`}
      okText="Release"
      okButtonProps={{ disabled: errors.length > 0 || waiting }}
      confirmLoading={release.isPending}
      onCancel={onClose}
      onOk={() => { if (!release.isPending) release.mutate(); }}
    >
      {errors.length > 0 ? (
        <>
          <p>The script has {errors.length} {errors.length === 1 ? 'error' : 'errors'}. Mend {errors.length === 1 ? 'it' : 'them'} first:</p>
          <div className="findings">
            {errors.map((f, i) => {
              const part = f.line == null ? undefined : script.parts[f.line];
              return (
                <button key={i} type="button" onClick={() => { if (part) onGo(part.id, f.field); else onClose(); }}>
                  <span><code>{part?.variable ?? f.code_list}</code> {f.message} <b>{f.mend}</b></span>
                </button>
              );
            })}
          </div>
        </>
      ) : (
        <>
          <p>A release never changes. Interviews begun with an earlier one are finished with it.</p>
          <Input.TextArea autoFocus rows={2} placeholder="What is new in it" value={remark} onChange={(event) => { setRemark(event.target.value); }} />
        </>
      )}
      {release.error && <Alert type="error" showIcon title={release.error.message} style={{ marginTop: 12 }} />}
    </Modal>
  );
}
