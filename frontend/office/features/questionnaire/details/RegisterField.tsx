// Which register a question picks from: one of the kinds of unit that the study has.
import { AutoComplete } from 'antd';
import { t } from '../../../texts/texts';
import { useMay } from '../../../ui/study';
import { useKinds } from '../../plan/registers/registers';

interface Props {
  studyId: number;
  value: string;
  readOnly: boolean;
  onChange: (name: string) => void;
}

export function RegisterField({ studyId, value, readOnly, onChange }: Props) {
  const may = useMay();
  const kinds = useKinds(studyId, may('register.read'));
  return (
    <AutoComplete
      aria-label={t('questionnaire.register')}
      className="mono"
      disabled={readOnly}
      value={value}
      placeholder={t('questionnaire.anyRegister')}
      options={(kinds.data ?? []).map((kind) => ({
        value: kind.name,
        label: `${kind.settings.glyph} ${kind.title} · ${kind.name}`,
      }))}
      onChange={(name: string) => {
        onChange(name.trim());
      }}
      style={{ width: '100%' }}
    />
  );
}
