// The map itself, fetched by who looks at it.
import { useContext } from 'react';
import { SheetsContext } from '../../shared/map/sheets';
import { useLeaflet } from '../../shared/map/useLeaflet';
import { useOneself } from '../../shared/map/useOneself';
import { ToMe } from '../../shared/map/ToMe';
import { useTexts } from '../texts/texts';

export default function Ground() {
  const { t } = useTexts();
  const sheets = useContext(SheetsContext);
  const { map, place } = useLeaflet(sheets, { nearer: t('nearer'), farther: t('farther') });
  const fix = useOneself(map);
  return (
    <main className="map">
      <div ref={place} />
      <ToMe map={map} fix={fix} label={t('whereIAm')} />
      <p className="map-said" role="status">
        {sheets.length === 0 ? t('mapComing') : fix === null ? t('noFix') : `±${String(Math.round(fix.accuracy))} m`}
      </p>
    </main>
  );
}
