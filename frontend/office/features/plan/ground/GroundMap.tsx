// The marks themselves, with a lasso and the one that is chosen.
import L from 'leaflet';
import { useContext, useEffect, useRef, useState } from 'react';
import { isInside, lasso } from '../../../../shared/map/lasso';
import { Marks } from '../../../../shared/map/marks';
import { SheetsContext } from '../../../../shared/map/sheets';
import { useLeaflet } from '../../../../shared/map/useLeaflet';
import { t } from '../../../texts/texts';
import { groupWords, lookOfGroup, type Ground } from './ground';

interface Props {
  ground: Ground;
  /** The places, among all points, of those that are shown. */
  shown: readonly number[];
  chosen: number | null;
  onChoose: (at: number) => void;
  onLasso: (inside: number[] | null) => void;
}

const RING: L.CircleMarkerOptions = { radius: 12, color: '#d9941e', weight: 4, fill: false, interactive: false };
const NEAR = 14;

export default function GroundMap({ ground, shown, chosen, onChoose, onLasso }: Props) {
  const sheets = useContext(SheetsContext);
  const { map, place } = useLeaflet(sheets, { nearer: t('maps.nearer'), farther: t('maps.farther') });
  const [drawing, setDrawing] = useState(false);
  const told = useRef({ onChoose, onLasso });
  useEffect(() => {
    told.current = { onChoose, onLasso };
  });

  useEffect(() => {
    if (map === null) return;
    const looks = ground.groups.map((group, at) => lookOfGroup(group, at, ground.by));
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
      told.current.onChoose(at);
    };
    const drawn = new Marks(marks, choose, true).addTo(map);
    return () => {
      drawn.remove();
    };
  }, [map, ground, shown]);

  // What is drawn round stays until something else is.
  const drawnRound = useRef<() => void>(() => undefined);
  useEffect(() => {
    if (map === null || !drawing) return;
    drawnRound.current();
    told.current.onLasso(null);
    const end = lasso(map, (corners) => {
      const inside = shown.filter((at) => isInside([ground.latitudes[at] ?? 0, ground.longitudes[at] ?? 0], corners));
      const kept = L.polygon(corners, {
        color: '#d9941e',
        weight: 2,
        dashArray: '6 4',
        fillOpacity: 0.1,
        interactive: false,
      }).addTo(map);
      drawnRound.current = () => {
        kept.remove();
      };
      told.current.onLasso(inside);
      setDrawing(false);
    });
    return end;
  }, [map, ground, shown, drawing]);

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

  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const isTyping = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement;
      if (isTyping || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === 'l') setDrawing((before) => !before);
      else if (event.key === 'Escape') {
        setDrawing(false);
        drawnRound.current();
        told.current.onLasso(null);
      }
    };
    window.addEventListener('keydown', press);
    return () => {
      window.removeEventListener('keydown', press);
    };
  }, []);

  return (
    <div className="map">
      <div ref={place} />
      <div className="map-tools">
        <button
          type="button"
          className="small-tool"
          aria-pressed={drawing}
          title={t('visits.lassoHelp')}
          onClick={() => {
            setDrawing(!drawing);
          }}
        >
          {t('visits.lasso')}
        </button>
      </div>
    </div>
  );
}
