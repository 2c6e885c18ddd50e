// What happened to a unit, in words.
import type { Schemas } from '../../../../shared/api/client';
import { t } from '../../../texts/texts';
import { text } from '../../../ui/text';

type Event = Schemas['EventLine'];

type When = (moment: string) => string;

const ORIGINS: Record<string, (event: Event, when: When) => string> = {
  file: (event) => t('register.fromFile', { file: text(event.detail.file), row: text(event.detail.row) }),
  desk: (event) =>
    event.detail.of === undefined ? event.by : t('register.decidedFor', { by: event.by, of: text(event.detail.of) }),
  phone: (event, when) =>
    event.detail.done === undefined
      ? t('register.onPhone', { by: event.by })
      : t('register.onPhoneAt', { by: event.by, when: when(text(event.detail.done)) }),
  interview: (event) => t('register.fromInterview', { by: event.by, interview: text(event.detail.interview) }),
};

/** Who, and on which way it came; on a phone also when it was done. */
export const whence = (event: Event, when: When): string => ORIGINS[event.origin]?.(event, when) ?? event.by;

const keyOf = (unit: unknown): string =>
  typeof unit === 'object' && unit !== null && 'key' in unit ? text(unit.key) : t('register.nothingAbove');

const TOLD: Record<string, (event: Event) => string> = {
  made: () => t('register.made'),
  changed: () => '',
  moved: ({ detail }) => t('register.moved', { from: keyOf(detail.from), to: keyOf(detail.to) }),
  merged: ({ detail }) =>
    detail.closed === true
      ? t('register.mergedInto', { other: text(detail.other) })
      : t('register.mergedWith', { other: text(detail.other) }),
  split: ({ detail }) =>
    detail.made === true
      ? t('register.splitFrom', { other: text(detail.other) })
      : t('register.splitOff', { other: text(detail.other) }),
  closed: ({ detail }) =>
    text(detail.closed_with) === ''
      ? t('register.wasClosed', { why: text(detail.why) })
      : t('register.wasClosedWith', { other: text(detail.closed_with) }),
  'opened again': () => t('register.wasOpened'),
};

export const toldOf = (event: Event): string => TOLD[event.what]?.(event) ?? event.what;

/** How a figure is carried upward: what the least and the most are called depends on what they are of. */
export function howWords(type: string, how: string): string {
  if (how === 'sum') return t('register.sum');
  if (type === 'code') return how === 'least' ? t('register.firstOfList') : t('register.lastOfList');
  if (type.startsWith('date')) return how === 'least' ? t('register.earliest') : t('register.latest');
  return how === 'least' ? t('register.least') : t('register.most');
}
