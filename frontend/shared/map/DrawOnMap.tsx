// A point, a path or an area set on the map: the cross is moved to where it is, or the place is tapped; corners can be
// dragged afterwards.
import L from 'leaflet';
import { useCallback, useContext, useEffect, useRef, useState } from 'react';
import type { InterviewText } from '../interview/texts';
import { metresBetween } from '../interview/positioning';
import { SheetsContext } from './sheets';
import { ToMe } from './ToMe';
import { useLeaflet } from './useLeaflet';
import { useOneself } from './useOneself';

/** A corner as an answer holds it; what is set on a map has no accuracy. */
export interface Corner {
  latitude: number;
  longitude: number;
  accuracy: number | null;
}

interface Props {
  kind: 'point' | 'path' | 'area';
  begins: Corner[];
  /** Where to look first while nothing is drawn yet. */
  near?: { latitude: number; longitude: number } | undefined;
  t: (key: InterviewText, values?: Record<string, string | number>) => string;
  label: string;
  onDone: (corners: Corner[]) => void;
  onCancel: () => void;
}

const LEAST = { point: 1, path: 2, area: 3 };
const DIGITS = 6;
const CLOSE = 17;
const AROUND_METRES = 250;

const cornerAt = ({ lat, lng }: L.LatLng): Corner => ({
  latitude: Number(lat.toFixed(DIGITS)),
  longitude: Number(lng.toFixed(DIGITS)),
  accuracy: null,
});

const latLng = (corner: Corner): L.LatLngTuple => [corner.latitude, corner.longitude];

export default function DrawOnMap({ kind, begins, near, t, label, onDone, onCancel }: Props) {
  const sheets = useContext(SheetsContext);
  // A map that is laid out before its page is shown would have no size to fit into.
  const [isShown, setShown] = useState(false);
  const show = useCallback((page: HTMLDialogElement) => {
    page.showModal();
    setShown(true);
    return () => {
      page.close();
    };
  }, []);
  const [corners, setCorners] = useState(begins);
  const [around] = useState(() =>
    begins.length > 0
      ? L.latLngBounds(begins.map(latLng)).pad(0.5)
      : near && L.latLng(near.latitude, near.longitude).toBounds(AROUND_METRES),
  );
  const { map, place } = useLeaflet(sheets, { nearer: t('nearer'), farther: t('farther') }, around);
  const fix = useOneself(map);
  // Whoever draws nothing yet begins where he stands.
  const found = useRef(begins.length > 0 || near !== undefined);
  useEffect(() => {
    if (map === null || fix === null || found.current) return;
    found.current = true;
    map.setView([fix.latitude, fix.longitude], CLOSE, { animate: false });
  }, [map, fix]);
  const add = (corner: Corner) => {
    setCorners((before) => (kind === 'point' ? [corner] : [...before, corner]));
  };

  useEffect(() => {
    if (map === null) return;
    const tap = (event: L.LeafletMouseEvent) => {
      add(cornerAt(event.latlng));
    };
    map.on('click', tap);
    return () => {
      map.off('click', tap);
    };
    // Adding sets what it needs by itself.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [map]);

  useEffect(() => {
    if (map === null) return;
    const places = corners.map(latLng);
    const style = { color: '#1f5540', weight: 3, fillOpacity: 0.15, interactive: false };
    const shape = kind === 'area' ? L.polygon(places, style) : L.polyline(places, style);
    const handles = corners.map((corner, at) =>
      L.marker(latLng(corner), {
        draggable: true,
        keyboard: false,
        icon: L.divIcon({ className: 'map-corner', iconSize: [22, 22] }),
      })
        .on('drag', (event) => {
          places[at] = latLng(cornerAt((event.target as L.Marker).getLatLng()));
          shape.setLatLngs(places);
        })
        .on('dragend', (event) => {
          const moved = cornerAt((event.target as L.Marker).getLatLng());
          setCorners((before) => before.map((one, number) => (number === at ? moved : one)));
        }),
    );
    const drawn = L.layerGroup([...(kind === 'point' ? [] : [shape]), ...handles]).addTo(map);
    return () => {
      drawn.remove();
    };
  }, [map, corners, kind]);

  const [begun] = corners;
  const along = kind === 'area' && begun !== undefined ? [...corners, begun] : corners;
  const metres = along.slice(1).reduce((sum, one, at) => sum + metresBetween(along[at] ?? one, one), 0);
  const still = (event: { stopPropagation: () => void }) => {
    event.stopPropagation();
  };
  return (
    <dialog ref={show} className="drawing-page" aria-label={label} onCancel={onCancel} onTouchStart={still}>
      <div className="map">
        {isShown && <div ref={place} />}
        <span className="map-cross" aria-hidden />
        <ToMe map={map} fix={fix} label={t('whereIAm')} />
      </div>
      <p className="drawing-said" role="status">
        {kind === 'point'
          ? begun === undefined
            ? t('mapHint')
            : `${begun.latitude.toFixed(5)}, ${begun.longitude.toFixed(5)}`
          : corners.length === 0
            ? t('mapHint')
            : t('pointsSoFar', { count: corners.length, metres: Math.round(metres) })}
      </p>
      <div className="drawing-foot">
        <button
          type="button"
          className="answer-button"
          autoFocus
          onClick={() => {
            if (map !== null) add(cornerAt(map.getCenter()));
          }}
        >
          {t('addCross')}
        </button>
        {kind !== 'point' && (
          <button
            type="button"
            className="answer-button quiet"
            disabled={corners.length === 0}
            onClick={() => {
              setCorners(corners.slice(0, -1));
            }}
          >
            {t('removeLast')}
          </button>
        )}
        <button type="button" className="answer-button quiet" onClick={onCancel}>
          {t('back')}
        </button>
        <button
          type="button"
          className="answer-button done"
          disabled={corners.length < LEAST[kind]}
          onClick={() => {
            onDone(corners);
          }}
        >
          {t('keep')}
        </button>
      </div>
    </dialog>
  );
}
