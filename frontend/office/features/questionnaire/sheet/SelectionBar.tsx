import { Button, Dropdown } from 'antd';
import { t } from '../../../texts/texts';
import { holdsParts, moveInto, type Part, type Script } from '../script/model';
import type { Chosen } from './selection';
import type { SheetActs } from './useSheet';

interface Props {
  script: Script;
  chosen: Chosen;
  language: string;
  acts: SheetActs;
  onAskedWhen: () => void;
  onSaveModule: () => void;
}

type Change = [label: string, change: (part: Part) => Part];

const special = (name: string, allowed: boolean) => (part: Part) => ({
  ...part,
  special_answers: [...part.special_answers.filter((s) => s !== name), ...(allowed ? [name] : [])],
});
const CHANGES: Change[] = [
  [t('questionnaire.setNeeded'), (part) => ({ ...part, answer_needed: 'yes' })],
  [t('questionnaire.setNotNeeded'), (part) => ({ ...part, answer_needed: '' })],
  [t('questionnaire.setDontKnow'), special('dont_know', true)],
  [t('questionnaire.setNoDontKnow'), special('dont_know', false)],
  [t('questionnaire.setRefused'), special('refused', true)],
  [t('questionnaire.setNoRefused'), special('refused', false)],
  [t('questionnaire.setSensitive'), (part) => ({ ...part, sensitive: true })],
  [t('questionnaire.setNotSensitive'), (part) => ({ ...part, sensitive: false })],
];

/** What can be done with the lines chosen together. */
export function SelectionBar({ script, chosen, language, acts, onAskedWhen, onSaveModule }: Props) {
  const { ids } = chosen;
  const holders = script.parts.filter((part) => holdsParts(part) && !ids.has(part.id));
  return (
    <div className="selection-bar" role="toolbar" aria-label={t('questionnaire.linesChosenBar')}>
      <b>{t('questionnaire.linesChosen', { count: ids.size })}</b>
      <Dropdown
        trigger={['click']}
        menu={{
          className: 'long-menu',
          items: [
            ...holders.map((part) => ({
              key: part.id,
              label: `${' '.repeat(part.level - 1)}${part.wording[language] || part.variable || part.kind}`,
              onClick: () => {
                acts.setParts((parts) => moveInto(parts, ids, part.id));
              },
            })),
            { type: 'divider' as const },
            {
              key: 'outermost',
              label: t('questionnaire.moveOutermost'),
              onClick: () => {
                acts.setParts((parts) => moveInto(parts, ids, null));
              },
            },
          ],
        }}
      >
        <Button size="small">{t('questionnaire.moveIntoMenu')}</Button>
      </Dropdown>
      <Dropdown
        trigger={['click']}
        menu={{
          items: [
            ...CHANGES.map(([label, change], i) => ({
              key: String(i),
              label,
              onClick: () => {
                acts.changeMany(ids, change);
              },
            })),
            { type: 'divider' as const },
            { key: 'asked', label: t('questionnaire.setAskedWhen'), onClick: onAskedWhen },
          ],
        }}
      >
        <Button size="small">{t('questionnaire.setMenu')}</Button>
      </Dropdown>
      <Button size="small" onClick={() => void acts.duplicate(ids)}>
        {t('questionnaire.duplicate')}
      </Button>
      <Button size="small" onClick={onSaveModule}>
        {t('questionnaire.moduleSaveOpen')}
      </Button>
      <Button
        size="small"
        danger
        onClick={() => {
          acts.remove(ids);
        }}
      >
        {t('questionnaire.removeLines')}
      </Button>
      <span className="grow" />
      <Button
        size="small"
        type="text"
        onClick={() => {
          acts.choose(null);
        }}
      >
        {t('questionnaire.letGo')}
      </Button>
    </div>
  );
}
