import { t } from '../texts/texts';

interface Station {
  key: string;
  label: string;
  /** The permissions without any of which there is nothing to see there. */
  needs: string | string[];
}

/** The stations of a study, in the order of the work. */
const STATIONS: Station[] = [
  { key: 'plan', label: t('common.plan'), needs: 'study.read' },
  { key: 'questionnaire', label: t('common.questionnaire'), needs: 'script.read' },
  { key: 'field', label: t('common.field'), needs: ['field.read', 'paper.key'] },
  { key: 'interviews', label: t('common.interviews'), needs: 'interview.read' },
  { key: 'checks', label: t('common.checks'), needs: 'interview.read' },
  { key: 'clean', label: t('common.clean'), needs: 'analyse.read' },
  { key: 'combine', label: t('common.combine'), needs: 'analyse.read' },
  { key: 'analyse', label: t('common.analyse'), needs: 'analyse.read' },
  { key: 'hand-over', label: t('common.handOver'), needs: 'analyse.read' },
];

/** The stations where somebody with these permissions finds something. */
export const stationsFor = (permissions: readonly string[]) =>
  STATIONS.filter((station) => [station.needs].flat().some((need) => permissions.includes(need)));
