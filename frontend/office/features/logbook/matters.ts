// What waits for a decision, in words, and the page where it is decided.
import type { Schemas } from '../../../shared/api/client';
import type { Moments } from '../../ui/moments';

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
    title: 'Interviews that break a hard check',
    text: () => 'Read them, correct a value with its reason, or send them back.',
    to: 'interviews?findings=must&state=arrived',
    urgent: true,
  },
  script_errors: {
    title: 'Errors in the questionnaire',
    text: () => 'It cannot be released before they are mended.',
    to: 'questionnaire?pane=findings',
    urgent: true,
  },
  revisions_waiting: {
    title: 'Interviews with a revision that waits for a decision',
    text: () => 'Hold the revisions against each other and say which one counts.',
    to: 'interviews?findings=waiting',
    urgent: true,
  },
  not_laid_out: {
    title: 'Interviews that are not in the data set',
    text: () => 'They are kept as they came; each says why it could not be laid out and what to do.',
    to: 'interviews?findings=not_laid_out',
    urgent: true,
  },
  unread: {
    title: 'Interviews unread',
    text: ({ oldest }, { dayOf }) => (oldest == null ? '' : `Oldest since ${dayOf(oldest)}.`),
    to: 'interviews?unread=1',
  },
  silent_devices: {
    title: 'Devices not heard of for 3 days',
    text: ({ names }) => `${names.join(', ')}. They may carry packed interviews.`,
    to: 'field',
  },
  sent_back: {
    title: 'Interviews sent back',
    text: () => 'Waiting for their enumerators.',
    to: 'interviews?state=sent back',
  },
  differing: {
    title: 'Interviews where the office computes otherwise than the device',
    text: () => 'Look at the release they were made with.',
    to: 'interviews?findings=differs',
    urgent: true,
  },
  unjoined: {
    title: 'Outside tables not joined yet',
    text: () => 'Say by which key they belong to the interviews.',
    to: 'combine',
  },
  no_longer_fits: {
    title: 'Steps or joins that no longer fit',
    text: () => 'A variable or code they use is gone.',
    to: 'clean',
    urgent: true,
  },
  laying_out: {
    title: 'Interviews are being laid out again',
    text: ({ saying }) =>
      `${saying === '' ? 'It begins soon' : saying}. Skavo was updated; figures follow as it goes on.`,
    to: 'interviews',
  },
};

export const tellMatter = (matter: Matter, moments: Moments) => {
  const { title, text, to, urgent = false } = MATTERS[matter.kind];
  return { title, to, urgent, text: text(matter, moments) };
};
