import { Picker } from '../../../ui/Picker';
import type { Kind } from '../script/model';
import { t } from '../../../texts/texts';

/** Choosing the kind of a line by typing its first letters. */
export function KindPicker({
  kinds,
  present,
  onPick,
  onClose,
}: {
  kinds: Kind[];
  present: string;
  onPick: (kind: string) => void;
  onClose: () => void;
}) {
  return (
    <Picker
      label={t('questionnaire.kindLine')}
      placeholder={t('questionnaire.kindLine')}
      width={340}
      top={120}
      search={(text) => kinds.filter((k) => k.name.includes(text.trim().toLowerCase()))}
      keyOf={(k) => k.name}
      onPick={(k) => {
        onPick(k.name);
      }}
      onClose={onClose}
    >
      {(k) => (
        <>
          <span>
            <span className="script-kind inline">{k.glyph}</span> {k.name}
          </span>
          {k.name === present && <span className="muted">{t('questionnaire.now')}</span>}
        </>
      )}
    </Picker>
  );
}
