import type { Settings } from '../store/db';
import { useTexts } from '../texts/texts';

/** Whom to ring, where the profile says so. */
export function Help({ settings }: { settings: Settings | undefined }) {
  const { t } = useTexts();
  if (!settings?.help_phone && !settings?.help_name) return null;
  const { help_name: name, help_phone: phone } = settings;
  return (
    <p className="help-line">
      {t('help')}: {name}{' '}
      {phone !== '' && (
        <a href={`tel:${phone.replace(/[^0-9+]/g, '')}`} dir="ltr">
          {phone}
        </a>
      )}
    </p>
  );
}
