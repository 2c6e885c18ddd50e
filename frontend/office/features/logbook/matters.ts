// What waits for a decision, in words, and the page where it is decided.
import type { Schemas } from '../../../shared/api/client';
import type { Moments } from '../../ui/moments';
import { t } from '../../texts/texts';

type Matter = Schemas['Matter'];

interface Told {
  title: string;
  text: (matter: Matter, moments: Moments) => string;
  /** The page below the study's address. */
  to: string;
  urgent?: true;
}

const MATTERS: Record<Matter['kind'], Told> = {
  hard_checks: {
    title: t('logbook.interviewsBreakHardCheck'),
    text: () => t('logbook.readThemCorrectValue'),
    to: 'interviews?findings=must&state=arrived',
    urgent: true,
  },
  script_errors: {
    title: t('logbook.errorsQuestionnaire'),
    text: () => t('logbook.cannotReleasedBeforeThey'),
    to: 'questionnaire?pane=findings',
    urgent: true,
  },
  revisions_waiting: {
    title: t('logbook.interviewsRevisionWaitsDecision'),
    text: () => t('logbook.holdRevisionsAgainstEach'),
    to: 'interviews?findings=waiting',
    urgent: true,
  },
  not_laid_out: {
    title: t('logbook.interviewsNotDataSet'),
    text: () => t('logbook.theyKeptTheyCame'),
    to: 'interviews?findings=not_laid_out',
    urgent: true,
  },
  unread: {
    title: t('logbook.interviewsUnread'),
    text: ({ oldest }, { dayOf }) => (oldest == null ? '' : t('logbook.oldestSince', { oldest: dayOf(oldest) })),
    to: 'interviews?unread=1',
  },
  silent_devices: {
    title: t('logbook.devicesNotHeard3'),
    text: ({ names }) => t('logbook.theyMayCarryPacked', { names: names.join(', ') }),
    to: 'field',
  },
  sent_back: {
    title: t('logbook.interviewsSentBack'),
    text: () => t('logbook.waitingTheirEnumerators'),
    to: 'interviews?state=sent back',
  },
  differing: {
    title: t('logbook.interviewsWhereOfficeComputes'),
    text: () => t('logbook.lookReleaseTheyWere'),
    to: 'interviews?findings=differs',
    urgent: true,
  },
  unjoined: {
    title: t('logbook.outsideTablesNotJoined'),
    text: () => t('logbook.sayWhichKeyThey'),
    to: 'combine',
  },
  no_longer_fits: {
    title: t('logbook.stepsJoinsNoLonger'),
    text: () => t('logbook.variableCodeTheyUse'),
    to: 'clean',
    urgent: true,
  },
  not_met: {
    title: t('logbook.textsNotMet'),
    text: () => t('logbook.textsNotMetMean'),
    to: 'clean',
  },
  visits_to_pass_on: {
    title: t('logbook.visitsToPassOn'),
    text: () => t('logbook.visitsToPassOnMean'),
    to: 'plan/visits?standing=to pass on',
  },
  visits_of_nobody: {
    title: t('logbook.visitsOfNobody'),
    text: () => t('logbook.visitsOfNobodyMean'),
    to: 'plan/visits?person=0',
  },
  unit_doubts: {
    title: t('logbook.unitDoubts'),
    text: () => t('logbook.unitDoubtsMean'),
    to: 'plan/registers?waiting=1',
  },
  near_doubtful: {
    title: t('logbook.nearDoubtful'),
    text: () => t('logbook.nearDoubtfulMean'),
    to: 'combine',
  },
  laying_out: {
    title: t('logbook.interviewsBeingLaidOut'),
    text: ({ saying }) =>
      saying === '' ? t('logbook.beginsSoonSkavoWas') : t('logbook.skavoWasUpdatedFigures', { saying }),
    to: 'interviews',
  },
};

export const tellMatter = (matter: Matter, moments: Moments) => {
  const { title, text, to, urgent = false } = MATTERS[matter.kind];
  return { title, to, urgent, text: text(matter, moments) };
};
