import { t } from '../../texts/texts';
import { Parts } from '../../ui/Parts';

/** What a study knows before anybody is asked; each a part of the station. */
const PARTS = [
  { to: '', words: t('plan.study'), needs: 'study.read' },
  { to: 'registers', words: t('plan.registers'), needs: 'register.read' },
  { to: 'samples', words: t('plan.samples'), needs: 'register.read' },
  { to: 'visits', words: t('plan.visits'), needs: 'field.read' },
  { to: 'map', words: t('plan.map'), needs: 'register.read' },
];

/** The plan station: what the study is for, whom it returns to, who is drawn, who goes. */
export default function Plan() {
  return <Parts title={t('common.plan')} label={t('plan.parts')} parts={PARTS} />;
}
