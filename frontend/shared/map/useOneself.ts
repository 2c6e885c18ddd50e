// Where one is, on the map: a dot, and a ring as wide as that is sure.
import L from 'leaflet';
import { useContext, useEffect, useState } from 'react';
import { PositioningContext, type Fix } from '../interview/positioning';

/** Follow one's own position and show it; null while it is not known. */
export function useOneself(map: L.Map | null): Fix | null {
  const { positioning } = useContext(PositioningContext);
  const [fix, setFix] = useState<Fix | null>(null);
  useEffect(() => positioning.watch(setFix, () => undefined), [positioning]);
  useEffect(() => {
    if (map === null || fix === null) return;
    const at = L.latLng(fix.latitude, fix.longitude);
    const shown = L.layerGroup([
      L.circle(at, { radius: fix.accuracy, color: '#2f6f8f', weight: 1, fillOpacity: 0.14, interactive: false }),
      L.circleMarker(at, {
        radius: 8,
        color: '#fff',
        weight: 3,
        fillColor: '#2f6f8f',
        fillOpacity: 1,
        interactive: false,
      }),
    ]).addTo(map);
    return () => {
      shown.remove();
    };
  }, [map, fix]);
  return fix;
}
