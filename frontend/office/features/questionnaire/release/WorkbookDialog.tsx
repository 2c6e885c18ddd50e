import { useQueryClient } from '@tanstack/react-query';
import { Alert, Checkbox, Modal, Upload } from 'antd';
import { useState } from 'react';
import { sendFile, type Schemas } from '../../../../shared/api/client';
import { messageOf } from '../../../ui/states';
import { ChangeList } from './Comparison';
import type { Script } from '../script/model';
import { t } from '../../../texts/texts';
import { Words } from '../../../texts/Words';

interface Props {
  questionnaireId: number;
  studyId: number;
  languages: string[];
  onClose: () => void;
  onTake: (script: Script) => void;
}

/** A workbook is read and compared before it replaces anything; taking it is one edit that can be undone. */
export function WorkbookDialog({ questionnaireId, studyId, languages, onClose, onTake }: Props) {
  const [found, setFound] = useState<Schemas['WorkbookOut'] | null>(null);
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  const [file, setFile] = useState<File | null>(null);
  const [withMedia, setWithMedia] = useState(true);
  const queries = useQueryClient();
  const read = async (file: File) => {
    setBusy(true);
    setProblem('');
    try {
      setFound(await sendFile<Schemas['WorkbookOut']>(`/api/questionnaires/${String(questionnaireId)}/workbook`, file));
      setFile(file);
    } catch (error) {
      setProblem(messageOf(error));
    }
    setBusy(false);
  };
  /** Media first: the script is checked against the shelf. */
  const take = async () => {
    if (!found || busy) return;
    setBusy(true);
    try {
      if (file && withMedia && found.media.length > 0) {
        await sendFile(`/api/studies/${String(studyId)}/media?name=${encodeURIComponent(file.name)}`, file);
        await queries.invalidateQueries({ queryKey: ['media', studyId] });
      }
      onTake(found.script);
    } catch (error) {
      setProblem(messageOf(error));
    }
    setBusy(false);
  };
  const errors = found?.faults.filter((f) => f.severity === 'error').length ?? 0;
  return (
    <Modal
      open
      width={720}
      title={t('questionnaire.bringWorkbook')}
      okText={t('questionnaire.replaceScript')}
      okButtonProps={{ disabled: !found, loading: busy && found !== null }}
      onCancel={onClose}
      onOk={() => void take()}
    >
      <Upload.Dragger
        accept=".xlsx,.zip"
        showUploadList={false}
        beforeUpload={(file) => {
          void read(file);
          return false;
        }}
        disabled={busy}
      >
        <p>{busy ? t('questionnaire.reading2') : t('questionnaire.dropXlsxFileZip')}</p>
      </Upload.Dragger>
      <p className="small">
        <a href={`/api/blank-workbook?languages=${languages.map(encodeURIComponent).join(',')}`} download>
          {t('questionnaire.blankWorkbook')}
        </a>{' '}
        <span className="muted">{t('questionnaire.blankWorkbookWhat')}</span>
      </p>
      {problem !== '' && <Alert type="error" showIcon title={problem} style={{ marginTop: 12 }} />}
      {found && (
        <>
          <p style={{ marginTop: 12 }}>
            <Words
              k="questionnaire.againstPresentScript"
              values={{
                parts: t('questionnaire.lines', { count: found.script.parts.length }),
                changes: t('questionnaire.changes', { count: found.comparison.changes.length }),
              }}
              parts={{ b: <b /> }}
            />
          </p>
          {found.media.length > 0 && (
            <Checkbox
              checked={withMedia}
              onChange={(event) => {
                setWithMedia(event.target.checked);
              }}
            >
              {t('questionnaire.mediaAlong', { count: found.media.length })}{' '}
              {found.replacing.length > 0 && (
                <span className="doubt">
                  {t('questionnaire.mediaReplacing', { names: found.replacing.join(', ') })}
                </span>
              )}
            </Checkbox>
          )}
          {found.faults.length > 0 && (
            <>
              <p>
                {t('questionnaire.theyCanMendedHere', {
                  errors: t('questionnaire.errors', { count: errors }),
                  doubts: t('questionnaire.doubts', { count: found.faults.length - errors }),
                })}
              </p>
              <div className="faults">
                <table>
                  <tbody>
                    {grouped(found.faults).map((alike) => (
                      <FaultRow key={`${alike[0].cell} ${alike[0].message}`} alike={alike} />
                    ))}
                  </tbody>
                </table>
              </div>
            </>
          )}
          {errors === 0 && (
            <div className="faults">
              <ChangeList comparison={found.comparison} />
            </div>
          )}
        </>
      )}
    </Modal>
  );
}

type Fault = Schemas['WorkbookOut']['faults'][number];
type Alike = [Fault, ...Fault[]];

/** Errors before doubts; what is said of several cells in the same words is one group. */
function grouped(faults: Fault[]): Alike[] {
  const groups = new Map<string, Alike>();
  for (const fault of [
    ...faults.filter((f) => f.severity === 'error'),
    ...faults.filter((f) => f.severity !== 'error'),
  ]) {
    const key = JSON.stringify([fault.severity, fault.sheet, fault.message, fault.mend]);
    const known = groups.get(key);
    if (known) known.push(fault);
    else groups.set(key, [fault]);
  }
  return [...groups.values()];
}

function FaultRow({ alike }: { alike: Alike }) {
  const [fault] = alike;
  const cells = [...new Set(alike.map((f) => f.cell))];
  const more = cells.length - 1;
  return (
    <tr>
      <td className="nowrap" title={cells.join(', ')}>
        {fault.sheet} {fault.cell}
        {more > 0 && <span className="muted"> {t('questionnaire.more', { more })}</span>}
      </td>
      <td className={fault.severity === 'error' ? 'bad' : ''}>
        {more === 0 && fault.found !== '' && (
          <>
            <code>{shortened(fault.found)}</code>{' '}
          </>
        )}
        {fault.message} <b>{fault.mend}</b>
      </td>
    </tr>
  );
}

const shortened = (found: string): string => (found.length > 60 ? `${found.slice(0, 59)}…` : found);
