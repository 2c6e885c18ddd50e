// Where one is, on the study's own map, without any network.
import { lazy, Suspense, useMemo } from 'react';
import { ofDevice, PositioningContext } from '../../shared/interview/positioning';
import { SheetsContext } from '../../shared/map/sheets';
import { useSheets } from '../store/sheets';
import { useSettings } from '../store/settings';
import { useTexts } from '../texts/texts';
import { Places } from '../ui/Frame';

const Ground = lazy(() => import('../ui/Ground'));

export function MapPage() {
  const { t } = useTexts();
  const sheets = useSheets();
  const { point_metres: metres } = useSettings();
  const positions = useMemo(() => ({ positioning: ofDevice, metres }), [metres]);
  return (
    <div className="frame map-frame">
      <h1 className="visually-hidden">{t('map')}</h1>
      <SheetsContext value={sheets}>
        <PositioningContext value={positions}>
          <Suspense fallback={<main className="map" />}>
            <Ground />
          </Suspense>
        </PositioningContext>
      </SheetsContext>
      <Places />
    </div>
  );
}
