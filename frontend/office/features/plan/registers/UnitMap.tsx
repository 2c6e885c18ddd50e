// Where units lie: those that are on show as marks, the chosen one with its shapes.
import L from 'leaflet';
import { useContext, useEffect, useRef } from 'react';
import { Marks } from '../../../../shared/map/marks';
import { SheetsContext } from '../../../../shared/map/sheets';
import { useLeaflet } from '../../../../shared/map/useLeaflet';
import { t } from '../../../texts/texts';
import type { Schemas } from '../../../../shared/api/client';
import type { Unit } from './registers';

interface Props {
  points: Schemas['PointsOut'] | undefined;
  unit: Unit | undefined;
  onChoose: (unitId: number) => void;
}

const PINE = '#1f5540';
const CHOSEN: L.CircleMarkerOptions = { radius: 11, color: '#d9941e', weight: 4, fillColor: '#fff', fillOpacity: 1 };
const NEAR = 15;

interface Corners {
  points: { latitude: number; longitude: number }[];
}

const isShape = (shape: unknown): shape is Corners =>
  typeof shape === 'object' && shape !== null && 'points' in shape && Array.isArray(shape.points);

export default function UnitMap({ points, unit, onChoose }: Props) {
  const sheets = useContext(SheetsContext);
  const { map, place } = useLeaflet(sheets, { nearer: t('maps.nearer'), farther: t('maps.farther') });
  const choose = useRef(onChoose);
  useEffect(() => {
    choose.current = onChoose;
  });

  useEffect(() => {
    if (map === null || points === undefined) return;
    const marks = points.ids.map((id, at) => ({
      id,
      latitude: points.latitudes[at] ?? 0,
      longitude: points.longitudes[at] ?? 0,
      label: points.labels[at] ?? '',
    }));
    const drawn = new Marks(marks, (id) => {
      choose.current(id);
    }).addTo(map);
    return () => {
      drawn.remove();
    };
  }, [map, points]);

  // Without a map sheet, what is on show says where to look.
  const looked = useRef(false);
  useEffect(() => {
    if (map === null || points === undefined || looked.current || sheets.length > 0 || points.ids.length === 0) return;
    looked.current = true;
    map.fitBounds(L.latLngBounds(points.ids.map((_, at) => [points.latitudes[at] ?? 0, points.longitudes[at] ?? 0])), {
      maxZoom: NEAR,
      padding: [20, 20],
    });
  }, [map, points, sheets.length]);

  const at =
    unit?.latitude != null && unit.longitude != null ? `${String(unit.latitude)} ${String(unit.longitude)}` : '';
  useEffect(() => {
    if (map === null || unit?.latitude == null || unit.longitude == null) return;
    const here: L.LatLngTuple = [unit.latitude, unit.longitude];
    const shapes = unit.fields.flatMap(({ kind, value }) => {
      if (!isShape(value)) return [];
      const line = value.points.map((corner): L.LatLngTuple => [corner.latitude, corner.longitude]);
      const style = { color: PINE, weight: 2, interactive: false };
      return [
        kind === 'area'
          ? L.polygon(line, { ...style, fillOpacity: 0.15 })
          : L.polyline(line, { ...style, dashArray: '5 4' }),
      ];
    });
    const drawn = L.layerGroup([
      ...shapes,
      L.circleMarker(here, { ...CHOSEN, interactive: false }).bindTooltip(unit.label, {
        permanent: true,
        direction: 'top',
        offset: [0, -10],
        className: 'unit-name',
      }),
      L.circleMarker(here, { radius: 4, color: PINE, fillColor: PINE, fillOpacity: 1, interactive: false }),
    ]).addTo(map);
    lookAt(map, here);
    return () => {
      drawn.remove();
    };
    // Drawn anew when it is another one, or lies elsewhere.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [map, unit?.id, at, unit?.version]);

  // What has no place of its own lies where the nearest unit above it does.
  const near = unit?.latitude == null ? nearestAbove(unit, points) : null;
  const nearAt = near === null ? '' : near.join(' ');
  useEffect(() => {
    if (map !== null && near !== null) lookAt(map, near);
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [map, nearAt]);

  return (
    <div className="map">
      <div ref={place} />
      {points !== undefined && points.left > 0 && (
        <p className="map-note">{t('register.morePoints', { count: points.left })}</p>
      )}
    </div>
  );
}

/** Move to a place, nearer where it is seen from afar. */
function lookAt(map: L.Map, here: L.LatLngTuple) {
  if (map.getZoom() < NEAR - 2) map.setView(here, NEAR, { animate: false });
  else if (!map.getBounds().pad(-0.1).contains(here)) map.panTo(here, { animate: false });
}

function nearestAbove(unit: Unit | undefined, points: Schemas['PointsOut'] | undefined): L.LatLngTuple | null {
  for (const step of [...(unit?.way ?? [])].reverse()) {
    const at = points?.ids.indexOf(step.id) ?? -1;
    const [latitude, longitude] = [points?.latitudes[at], points?.longitudes[at]];
    if (latitude !== undefined && longitude !== undefined) return [latitude, longitude];
  }
  return null;
}
