// A field profile in a few lines, as a supervisor reads it out.
import { languageName } from '../../../shared/interview/languages';
import { t } from '../../texts/texts';
import type { Settings } from './phones';

export const PAGES: Record<Settings['page'], string> = {
  question: t('field.pageQuestion'),
  section: t('field.pageSection'),
};
export const TURNINGS: Record<Settings['turning'], string> = {
  both: t('field.turnBoth'),
  buttons: t('field.turnButtons'),
  swipe: t('field.turnSwipe'),
};
export const SENDS: Record<Settings['sends'], string> = {
  'any network': t('field.sendsAny'),
  unmetered: t('field.sendsUnmetered'),
  'by hand': t('field.sendsByHand'),
};
export const KEEPS: Record<Settings['keeps'], string> = {
  nothing: t('field.keepsNothing'),
  list: t('field.keepsList'),
  all: t('field.keepsAll'),
};

/** `maps` are the names of the study's maps, by identity. */
export function profileWords(settings: Settings, maps: ReadonlyMap<number, string>): string[] {
  const keeps =
    settings.keeps === 'nothing'
      ? KEEPS.nothing
      : t('field.keepsFor', { what: KEEPS[settings.keeps], n: settings.keeps_days });
  const help = [settings.help_name, settings.help_phone].filter((part) => part !== '').join(', ');
  const held = settings.map_sheets.flatMap((id) => maps.get(id) ?? []);
  return [
    `${PAGES[settings.page]}, ${TURNINGS[settings.turning]}`,
    ...(settings.goes_on ? [t('field.goesOnShort')] : []),
    `${t('field.photosOf', { pixels: settings.photo_pixels, quality: settings.photo_quality })} · ${SENDS[settings.sends]}`,
    `${keeps} · ${settings.pin ? t('field.pinLocks', { n: settings.lock_minutes }) : t('field.noPin')}`,
    t('field.pointsWithin', { n: settings.point_metres }),
    settings.practice ? t('field.practiceAllowed') : t('field.practiceNot'),
    ...(settings.languages.length > 0 ? [settings.languages.map((tag) => languageName(tag)).join(', ')] : []),
    ...(held.length > 0 ? [t('field.mapsOf', { names: held.join(', ') })] : []),
    ...(help === '' ? [] : [t('field.helpFrom', { help })]),
  ];
}
