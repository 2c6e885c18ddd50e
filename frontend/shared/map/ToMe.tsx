import type { Map } from 'leaflet';
import type { Fix } from '../interview/positioning';

const CLOSE = 17;

/** The way to where one is; there is none while that is not known. */
export function ToMe({ map, fix, label }: { map: Map | null; fix: Fix | null; label: string }) {
  return (
    <div className="map-tools">
      {fix !== null && (
        <button
          type="button"
          aria-label={label}
          onClick={() => map?.setView([fix.latitude, fix.longitude], Math.max(CLOSE, map.getZoom()))}
        >
          ◎
        </button>
      )}
    </div>
  );
}
