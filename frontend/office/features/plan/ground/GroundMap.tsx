// The marks themselves, with a lasso and the one that is chosen.
import L from 'leaflet';
import { useContext, useEffect, useMemo, useRef } from 'react';
import { Marks } from '../../../../shared/map/marks';
import { SheetsContext } from '../../../../shared/map/sheets';
import { useLeaflet } from '../../../../shared/map/useLeaflet';
import { t } from '../../../texts/texts';
import { useLasso } from '../../../ui/useLasso';
import { groupWords, lookOfGroup, type Ground } from './ground';

interface Props {
  ground: Ground;
  /** The places, among all points, of those that are shown. */
  shown: readonly number[];
  chosen: number | null;
  onChoose: (at: number) => void;
  /** None where a map is only looked at. */
  onLasso?: (inside: number[] | null) => void;
}

const RING: L.CircleMarkerOptions = { radius: 12, color: '#d9941e', weight: 4, fill: false, interactive: false };
const NEAR = 14;

export default function GroundMap({ ground, shown, chosen, onChoose, onLasso }: Props) {
  const sheets = useContext(SheetsContext);
  const { map, place } = useLeaflet(sheets, { nearer: t('maps.nearer'), farther: t('maps.farther') });
  const tell = useRef(onChoose);
  useEffect(() => {
    tell.current = onChoose;
  });

  useEffect(() => {
    if (map === null) return;
    const looks = ground.groups.map((group, at) => lookOfGroup(group, at, ground.by, ground.graded));
    const marks = shown.map((at) => {
      const group = ground.groups[ground.group_of[at] ?? 0];
      return {
        id: at,
        latitude: ground.latitudes[at] ?? 0,
        longitude: ground.longitudes[at] ?? 0,
        label: `${ground.labels[at] ?? ''}${group === undefined ? '' : ` · ${groupWords(group, ground.by)}`}`,
        look: looks[ground.group_of[at] ?? 0],
      };
    });
    const choose = (at: number) => {
      tell.current(at);
    };
    const drawn = new Marks(marks, choose, ground.days.length === 0).addTo(map);
    return () => {
      drawn.remove();
    };
  }, [map, ground, shown]);

  // The ways of a day: each person's places one after the other.
  useEffect(() => {
    if (map === null || ground.days.length === 0) return;
    const ways = ground.groups.map((group, at) => {
      const places = shown
        .filter((one) => ground.group_of[one] === at)
        .map((one): L.LatLngTuple => [ground.latitudes[one] ?? 0, ground.longitudes[one] ?? 0]);
      const { colour } = lookOfGroup(group, at, ground.by);
      return L.polyline(places, { color: colour, weight: 2, opacity: 0.8, interactive: false });
    });
    const drawn = L.layerGroup(ways).addTo(map);
    return () => {
      drawn.remove();
    };
  }, [map, ground, shown]);

  const looked = useRef('');
  useEffect(() => {
    if (map === null || shown.length === 0 || looked.current !== '') return;
    looked.current = 'once';
    const corners = shown.map((at): L.LatLngTuple => [ground.latitudes[at] ?? 0, ground.longitudes[at] ?? 0]);
    map.fitBounds(L.latLngBounds(corners), { maxZoom: NEAR, padding: [30, 30] });
  }, [map, ground, shown]);

  useEffect(() => {
    if (map === null || chosen === null) return;
    const drawn = L.circleMarker([ground.latitudes[chosen] ?? 0, ground.longitudes[chosen] ?? 0], RING).addTo(map);
    return () => {
      drawn.remove();
    };
  }, [map, ground, chosen]);

  const places = useMemo(
    () => shown.map((at) => ({ latitude: ground.latitudes[at] ?? 0, longitude: ground.longitudes[at] ?? 0 })),
    [ground, shown],
  );
  const button = useLasso(map, places, (inside) => {
    onLasso?.(inside?.map((at) => shown[at] ?? 0) ?? null);
  });

  return (
    <div className="map">
      <div ref={place} />
      {onLasso !== undefined && button}
    </div>
  );
}
