// A sheet as phones draw it.
import { useMemo } from 'react';
import { useLeaflet } from '../../../../shared/map/useLeaflet';
import { t } from '../../../texts/texts';
import { drawable, type MapSheet } from './useMaps';

export default function Shown({ sheet }: { sheet: MapSheet }) {
  const sheets = useMemo(() => [drawable(sheet)], [sheet]);
  const { place } = useLeaflet(sheets, { nearer: t('maps.nearer'), farther: t('maps.farther') });
  return (
    <div className="map">
      <div ref={place} />
    </div>
  );
}
