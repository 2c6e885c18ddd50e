import { t } from '../../../texts/texts';
import { Picker } from '../../../ui/Picker';
import type { Kind, Script } from '../script/model';
import { choicesFor, type Choice } from './answers';

interface Props {
  script: Script;
  kinds: Kind[];
  present: string;
  typed: string;
  onPick: (choice: Choice) => void;
  onClose: () => void;
}

/** What a line asks for, chosen by typing: a kind, a code list, a unit, or the labels of new codes. */
export const AnswerPicker = ({ script, kinds, present, typed, onPick, onClose }: Props) => (
  <Picker
    label={t('questionnaire.answerLine')}
    placeholder={t('questionnaire.answerPlaceholder')}
    width={460}
    top={110}
    typed={typed}
    present={present}
    search={(text) => choicesFor(text, script, kinds)}
    keyOf={(choice) => choice.key}
    onPick={onPick}
    onClose={onClose}
  >
    {(choice) => (
      <>
        <span className="clip">
          <span className="script-kind inline">{choice.glyph}</span> {choice.words}
        </span>
        <span className="muted nowrap">{choice.key === present ? t('questionnaire.now') : choice.detail}</span>
      </>
    )}
  </Picker>
);
