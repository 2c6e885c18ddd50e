import { useQuery } from '@tanstack/react-query';
import { Alert, Checkbox, Input, InputNumber, Modal, Select } from 'antd';
import { useState } from 'react';
import { api, ask, type Schemas } from '../../../shared/api/client';
import { t } from '../../texts/texts';
import { Loaded, messageOf } from '../../ui/states';
import { STANDARD_UNITS } from './script/model';

type Standard = Schemas['Standard'];

interface Props {
  studyId: number;
  readOnly: boolean;
  onClose: () => void;
  onSaved: () => void;
}

/** How variables of the study are called, and what is measured in; what is otherwise is told as a hint. */
export function StandardDialog({ studyId, readOnly, onClose, onSaved }: Props) {
  const path = { params: { path: { study_id: studyId } } };
  const kept = useQuery({
    queryKey: ['standard', studyId],
    queryFn: () => ask(api.GET('/api/studies/{study_id}/standard', path)),
    gcTime: 0,
  });
  const [changed, setChanged] = useState<Partial<Standard>>({});
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  const standard = kept.data ? { ...kept.data, ...changed } : null;
  const save = async () => {
    if (!standard) return;
    setBusy(true);
    try {
      await ask(api.PUT('/api/studies/{study_id}/standard', { ...path, body: standard }));
      onSaved();
    } catch (error) {
      setProblem(messageOf(error));
    }
    setBusy(false);
  };
  return (
    <Modal
      open
      title={t('questionnaire.standard')}
      okText={t('questionnaire.standardKeep')}
      okButtonProps={{ disabled: readOnly || !standard, loading: busy }}
      onCancel={onClose}
      onOk={() => void save()}
    >
      <p className="muted">{t('questionnaire.standardWhat')}</p>
      <Loaded query={kept}>
        {() => (
          <div className="standard">
            <label>
              <span>{t('questionnaire.standardLongest')}</span>
              <InputNumber
                min={4}
                max={32}
                disabled={readOnly}
                value={standard?.longest ?? null}
                onChange={(longest) => {
                  setChanged({ ...changed, longest });
                }}
              />
            </label>
            <label>
              <span>{t('questionnaire.standardPattern')}</span>
              <Input
                className="mono"
                placeholder="[a-z]+_[a-z0-9_]+"
                disabled={readOnly}
                value={standard?.pattern ?? ''}
                onChange={(event) => {
                  setChanged({ ...changed, pattern: event.target.value });
                }}
              />
            </label>
            <Checkbox
              disabled={readOnly}
              checked={standard?.by_section ?? false}
              onChange={(event) => {
                setChanged({ ...changed, by_section: event.target.checked });
              }}
            >
              {t('questionnaire.standardBySection')}
            </Checkbox>
            <label>
              <span>{t('questionnaire.standardUnits')}</span>
              <Select
                mode="multiple"
                disabled={readOnly}
                placeholder={t('questionnaire.standardAnyUnit')}
                value={standard?.units ?? []}
                options={STANDARD_UNITS.map((unit) => ({ value: unit, label: unit }))}
                onChange={(units: string[]) => {
                  setChanged({ ...changed, units });
                }}
              />
            </label>
            {problem !== '' && <Alert type="error" showIcon title={problem} />}
          </div>
        )}
      </Loaded>
    </Modal>
  );
}
