// Where visits lie: each as the mark of what became of it, some of them chosen by drawing round them.
import L from 'leaflet';
import { useContext, useEffect, useMemo, useRef } from 'react';
import type { Schemas } from '../../../../shared/api/client';
import { Marks } from '../../../../shared/map/marks';
import { SheetsContext } from '../../../../shared/map/sheets';
import { useLeaflet } from '../../../../shared/map/useLeaflet';
import { t } from '../../../texts/texts';
import { useLasso } from '../../../ui/useLasso';
import { OutcomeMark } from '../../../../shared/map/OutcomeMark';
import { called, CLASS_ORDER, CLASSES, lookOf, lookOfClass, type Class, type Outcome, type Visit } from './visits';

interface Props {
  points: Schemas['VisitPoints'] | undefined;
  outcomes: Outcome[];
  visit: Visit | undefined;
  chosen: ReadonlySet<number>;
  onChoose: (visitId: number) => void;
  onLasso: (ids: number[]) => void;
}

const CHOSEN: L.CircleMarkerOptions = { radius: 11, color: '#d9941e', weight: 3, fill: false, interactive: false };
const NEAR = 15;

export default function VisitMap({ points, outcomes, visit, chosen, onChoose, onLasso }: Props) {
  const sheets = useContext(SheetsContext);
  const { map, place } = useLeaflet(sheets, { nearer: t('maps.nearer'), farther: t('maps.farther') });
  const tell = useRef(onChoose);
  const layer = useRef<Marks | null>(null);
  useEffect(() => {
    tell.current = onChoose;
  });

  useEffect(() => {
    if (map === null || points === undefined) return;
    const byCode = new Map(outcomes.map((one) => [one.code, one]));
    const marks = points.ids.map((id, at) => ({
      id,
      latitude: points.latitudes[at] ?? 0,
      longitude: points.longitudes[at] ?? 0,
      label: `${points.labels[at] ?? ''} · ${called(outcomes, points.outcomes[at] ?? '')}`,
      look: lookOf(byCode.get(points.outcomes[at] ?? '')),
    }));
    const choose = (id: number) => {
      tell.current(id);
    };
    const drawn = new Marks(marks, choose, true).addTo(map);
    layer.current = drawn;
    return () => {
      layer.current = null;
      drawn.remove();
    };
  }, [map, points, outcomes]);

  useEffect(() => {
    layer.current?.ring(chosen);
  }, [map, points, outcomes, chosen]);

  const places = useMemo(
    () => points?.ids.map((_, at) => ({ latitude: points.latitudes[at] ?? 0, longitude: points.longitudes[at] ?? 0 })),
    [points],
  );
  const button = useLasso(map, places, (inside) => {
    onLasso(inside?.map((at) => points?.ids[at] ?? 0) ?? []);
  });

  // Without a map sheet, what is on show says where to look.
  const looked = useRef(false);
  useEffect(() => {
    if (map === null || points === undefined || looked.current || sheets.length > 0 || points.ids.length === 0) return;
    looked.current = true;
    const corners = points.ids.map((_, at): L.LatLngTuple => [points.latitudes[at] ?? 0, points.longitudes[at] ?? 0]);
    map.fitBounds(L.latLngBounds(corners), { maxZoom: NEAR, padding: [20, 20] });
  }, [map, points, sheets.length]);

  useEffect(() => {
    if (map === null || visit?.latitude == null || visit.longitude == null) return;
    const here: L.LatLngTuple = [visit.latitude, visit.longitude];
    const drawn = L.circleMarker(here, { ...CHOSEN, radius: 13, weight: 4 })
      .addTo(map)
      .bindTooltip(visit.label, { permanent: true, direction: 'top', offset: [0, -12], className: 'unit-name' });
    if (map.getZoom() < NEAR - 2) map.setView(here, NEAR, { animate: false });
    else if (!map.getBounds().pad(-0.1).contains(here)) map.panTo(here, { animate: false });
    return () => {
      drawn.remove();
    };
    // Drawn anew when it is another one, or lies elsewhere.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [map, visit?.id, visit?.latitude, visit?.longitude]);

  // A shape says a class, so that the legend does too.
  const counts = new Map<Class | undefined, number>();
  const classOf = new Map(outcomes.map((one) => [one.code, one.counts_as]));
  for (const code of points?.outcomes ?? []) {
    const found = classOf.get(code);
    counts.set(found, (counts.get(found) ?? 0) + 1);
  }
  return (
    <div className="map">
      <div ref={place} />
      {button}
      {points !== undefined && (
        <p className="map-legend">
          {[...CLASS_ORDER, undefined]
            .filter((one) => counts.has(one))
            .map((one) => (
              <span key={one ?? ''}>
                <OutcomeMark look={lookOfClass(one)} /> {one === undefined ? t('visits.notYet') : CLASSES[one]}{' '}
                {counts.get(one)}
              </span>
            ))}
          {points.without > 0 && <span className="muted">{t('visits.withoutPlace', { count: points.without })}</span>}
        </p>
      )}
    </div>
  );
}
