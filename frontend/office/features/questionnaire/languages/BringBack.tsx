// A translator's sheet read back: what it changes and what is wrong with it, before anything is taken.
import { Alert, Modal, Upload } from 'antd';
import { useState } from 'react';
import { sendFile, type Schemas } from '../../../../shared/api/client';
import { directionOf, languageName } from '../../../../shared/interview/languages';
import { t } from '../../../texts/texts';
import { messageOf } from '../../../ui/states';
import type { Script } from '../script/model';

type Found = Schemas['TranslationOut'];

interface Props {
  questionnaireId: number;
  language: string;
  /** Whether the last edit is not kept yet: the sheet is held against what is. */
  waiting: boolean;
  onClose: () => void;
  onTake: (script: Script) => void;
}

const MOST_SHOWN = 60;

export function BringBack({ questionnaireId, language, waiting, onClose, onTake }: Props) {
  const [found, setFound] = useState<Found | null>(null);
  const [problem, setProblem] = useState('');
  const read = async (file: File) => {
    setProblem('');
    setFound(null);
    try {
      const query = new URLSearchParams({ language, name: file.name }).toString();
      setFound(await sendFile<Found>(`/api/questionnaires/${String(questionnaireId)}/translation?${query}`, file));
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  const taken = found ? found.changed.length + found.doubtful.filter((d) => d.trouble !== 'no such text').length : 0;
  return (
    <Modal
      open
      width={820}
      title={t('languages.bringBack', { language: languageName(language) })}
      okText={t('languages.take', { count: taken })}
      okButtonProps={{ disabled: taken === 0 }}
      onCancel={onClose}
      onOk={() => {
        if (found) onTake(found.script);
      }}
    >
      <Upload.Dragger
        accept=".xlsx,.csv"
        showUploadList={false}
        disabled={waiting}
        beforeUpload={(file) => {
          void read(file);
          return false;
        }}
      >
        <p>{t('languages.drop')}</p>
      </Upload.Dragger>
      {problem !== '' && <Alert type="error" showIcon title={problem} style={{ marginTop: 12 }} />}
      {found && (
        <>
          <p style={{ marginTop: 12 }}>
            {t('languages.brought', {
              changed: t('languages.textsChanged', { count: found.changed.length + found.doubtful.length }),
              same: found.same,
              empty: found.left_empty,
            })}
          </p>
          <div className="faults">
            <table className="codes-table">
              <tbody>
                {[...found.doubtful, ...found.changed].slice(0, MOST_SHOWN).map((text) => (
                  <tr key={text.row}>
                    <td className="small muted nowrap">
                      {t('lists.rowSays', { row: text.row })} {text.place}
                    </td>
                    <td>
                      {text.before !== '' && <s className="muted">{text.before}</s>}{' '}
                      <span dir={directionOf(language)}>{text.after}</span>
                      {text.words !== '' && <div className="small doubt">{text.words}</div>}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </>
      )}
    </Modal>
  );
}
