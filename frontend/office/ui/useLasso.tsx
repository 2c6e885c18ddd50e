// The lasso of a map at the desk: pressed, or by its key; what is drawn stays until it is dropped.
import L from 'leaflet';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { isInside, lasso, LASSO_STYLE } from '../../shared/map/lasso';
import { t } from '../texts/texts';

export interface Placed {
  latitude: number;
  longitude: number;
}

/** The button of a lasso; `onLasso` is told which of the points lie inside, null once the lasso is dropped. */
export function useLasso(
  map: L.Map | null,
  points: readonly Placed[] | undefined,
  onLasso: (inside: number[] | null) => void,
): ReactNode {
  const [drawing, setDrawing] = useState(false);
  const tell = useRef(onLasso);
  useEffect(() => {
    tell.current = onLasso;
  });
  const drop = useRef<() => void>(() => undefined);

  useEffect(() => {
    if (map === null || points === undefined || !drawing) return;
    drop.current();
    tell.current(null);
    return lasso(map, (corners) => {
      const kept = L.polygon(corners, LASSO_STYLE).addTo(map);
      drop.current = () => {
        kept.remove();
      };
      tell.current(
        points.flatMap(({ latitude, longitude }, at) => (isInside([latitude, longitude], corners) ? [at] : [])),
      );
      setDrawing(false);
    });
  }, [map, points, drawing]);

  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const isTyping = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement;
      if (isTyping || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key === 'l') setDrawing((before) => !before);
      else if (event.key === 'Escape') {
        setDrawing(false);
        drop.current();
        tell.current(null);
      }
    };
    window.addEventListener('keydown', press);
    return () => {
      window.removeEventListener('keydown', press);
    };
  }, []);

  return (
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
  );
}
