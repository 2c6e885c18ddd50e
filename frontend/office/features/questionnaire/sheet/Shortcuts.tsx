import { Modal } from 'antd';
import { t } from '../../../texts/texts';

type Keys = [keys: string, does: string][];

const GROUPS: [title: string, keys: Keys][] = [
  [
    t('questionnaire.keysWriting'),
    [
      ['Enter', t('questionnaire.keyEnter')],
      ['Shift Enter', t('questionnaire.keyShiftEnter')],
      ['Ctrl Enter', t('questionnaire.keyCtrlEnter')],
      ['Tab · Shift Tab', t('questionnaire.keyTab')],
      ['↑ ↓', t('questionnaire.lineAboveBelow')],
      ['/ · Ctrl /', t('questionnaire.keyAnswer')],
      ['Ctrl .', t('questionnaire.keyPane')],
      ['Ctrl Space', t('questionnaire.ruleWhatMayCome')],
    ],
  ],
  [
    t('questionnaire.keysLines'),
    [
      ['Ctrl ] · Ctrl [', t('questionnaire.keyIndent')],
      ['Alt ↑ · Alt ↓', t('questionnaire.moveLineEverythingInside')],
      ['Ctrl D', t('questionnaire.sameLineAgain')],
      ['Ctrl Backspace', t('questionnaire.removeLineEverythingInside')],
      ['Ctrl Shift [ · ]', t('questionnaire.keyFold')],
    ],
  ],
  [
    t('questionnaire.keysMany'),
    [
      ['Esc', t('questionnaire.keyEsc')],
      ['Shift ↑ · Shift ↓', t('questionnaire.keyShiftArrows')],
      ['Ctrl A', t('questionnaire.keyAll')],
      ['Ctrl C · X · V', t('questionnaire.keyClipboard')],
    ],
  ],
  [
    t('questionnaire.keysScript'),
    [
      ['Ctrl F · Ctrl H', t('questionnaire.keyFind')],
      ['Ctrl Z · Ctrl Y', t('questionnaire.undoRedo')],
      ['Ctrl K', t('questionnaire.findDoAnything')],
      ['?', t('questionnaire.keyHelp')],
    ],
  ],
];

export const Shortcuts = ({ onClose }: { onClose: () => void }) => (
  <Modal
    open
    width={760}
    style={{ top: 60 }}
    title={t('questionnaire.keysScriptSheet')}
    footer={null}
    onCancel={onClose}
  >
    <div className="key-groups">
      {GROUPS.map(([title, keys]) => (
        <section key={title}>
          <h3>{title}</h3>
          <dl className="keys">
            {keys.map(([key, does]) => (
              <div key={key}>
                <dt>
                  {key.split(' ').map((one, i) => (one === '·' ? <span key={i}> · </span> : <kbd key={i}>{one}</kbd>))}
                </dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
        </section>
      ))}
    </div>
  </Modal>
);
