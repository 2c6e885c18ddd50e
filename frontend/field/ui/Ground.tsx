// The map itself, fetched by who looks at it.
import { useContext } from 'react';
import { SheetsContext } from '../../shared/map/sheets';
import { useLeaflet } from '../../shared/map/useLeaflet';
import { useOneself } from '../../shared/map/useOneself';
import { useTexts } from '../texts/texts';

export default function Ground() {
  const { t } = useTexts();
  const sheets = useContext(SheetsContext);
  const { map, place } = useLeaflet(sheets, { nearer: t('nearer'), farther: t('farther') });
  const fix = useOneself(map);
  return (
    <main className="map">
      <div ref={place} />
      <div className="map-tools">
        {fix !== null && (
          <button
            type="button"
            aria-label={t('whereIAm')}
            onClick={() => map?.setView([fix.latitude, fix.longitude], Math.max(17, map.getZoom()))}
          >
            ◎
          </button>
        )}
      </div>
      <p className="map-said" role="status">
        {sheets.length === 0 ? t('mapComing') : fix === null ? t('noFix') : `±${String(Math.round(fix.accuracy))} m`}
      </p>
    </main>
  );
}
