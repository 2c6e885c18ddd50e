// What was found in interviews, as a sentence narrows them down by it.
import { t } from '../../texts/texts';

export type Findings = '' | 'must' | 'should' | 'none' | 'differs' | 'not_laid_out' | 'waiting' | 'flagged';

export const FINDINGS: { value: Findings | 'any'; label: string }[] = [
  { value: 'any', label: t('interviews.asTheyAre') },
  { value: 'must', label: t('interviews.breakHardCheck') },
  { value: 'should', label: t('interviews.haveSoftFinding') },
  { value: 'none', label: t('interviews.haveNoFinding') },
  { value: 'differs', label: t('interviews.differDevice') },
  { value: 'waiting', label: t('interviews.haveRevisionWaits') },
  { value: 'not_laid_out', label: t('interviews.findNotInDataSet') },
  { value: 'flagged', label: t('interviews.haveDoubtfulMomentsTexts') },
];
