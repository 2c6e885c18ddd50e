import { t } from '../texts/texts';
/** The stations of a study, in the order of the work. */
export const STATIONS = [
  { key: 'plan', label: t('common.plan') },
  { key: 'questionnaire', label: t('common.questionnaire') },
  { key: 'field', label: t('common.field') },
  { key: 'interviews', label: t('common.interviews') },
  { key: 'checks', label: t('common.checks') },
  { key: 'clean', label: t('common.clean') },
  { key: 'combine', label: t('common.combine') },
  { key: 'analyse', label: t('common.analyse') },
  { key: 'hand-over', label: t('common.handOver') },
] as const;
