import { Modal } from 'antd';
import { t } from '../../../texts/texts';

const KEYS: [string, string][] = [
  [t('questionnaire.enter'), t('questionnaire.newLineBelow')],
  [t('questionnaire.tabShiftTab'), t('questionnaire.variableIntoSectionRoster')],
  ['↑ ↓', t('questionnaire.lineAboveBelow')],
  [t('questionnaire.altAlt'), t('questionnaire.moveLineEverythingInside')],
  ['/', t('questionnaire.emptyCellKindLine')],
  [t('questionnaire.ctrlD'), t('questionnaire.sameLineAgain')],
  [t('questionnaire.ctrlBackspace'), t('questionnaire.removeLineEverythingInside')],
  [t('questionnaire.ctrlZCtrlShift'), t('questionnaire.undoRedo')],
  [t('questionnaire.ctrlSpace'), t('questionnaire.ruleWhatMayCome')],
  ['Ctrl K', t('questionnaire.findDoAnything')],
];

export const Shortcuts = ({ onClose }: { onClose: () => void }) => (
  <Modal open title={t('questionnaire.keysScriptSheet')} footer={null} onCancel={onClose}>
    <dl className="keys">
      {KEYS.map(([key, what]) => (
        <div key={key}>
          <dt>
            <kbd>{key}</kbd>
          </dt>
          <dd>{what}</dd>
        </div>
      ))}
    </dl>
  </Modal>
);
