// The roles of a study, in words.
import { t } from '../texts/texts';

export const ROLES: Record<string, string> = {
  data_manager: t('people.dataManager'),
  supervisor: t('people.supervisor'),
  enumerator: t('people.enumerator'),
  keyer: t('people.keyer'),
  analyst: t('people.analyst'),
};

export const roleWords = (role: string): string => ROLES[role] ?? role;
