// Drawing round some marks on a map: a line by hand that closes itself.
import L from 'leaflet';

/** Whether a place lies inside a closed line; both in any plane coordinates (crossing number; M. Shimrat 1962). */
export function isInside([x, y]: readonly [number, number], line: readonly (readonly [number, number])[]): boolean {
  let inside = false;
  for (let at = 0, before = line.length - 1; at < line.length; before = at, at += 1) {
    const [ax, ay] = line[at] ?? [0, 0];
    const [bx, by] = line[before] ?? [0, 0];
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
  }
  return inside;
}

export const LASSO_STYLE: L.PolylineOptions = {
  color: '#d9941e',
  weight: 2,
  dashArray: '6 4',
  fillColor: '#d9941e',
  fillOpacity: 0.12,
  interactive: false,
};
/** A press that moves by less is none. */
const LEAST_CORNERS = 3;

/**
 * Let the hand draw round something on a map until it lifts; `onDrawn` is told the corners as [north, east]. Returns what
 * takes the tool away, with what was drawn.
 */
export function lasso(map: L.Map, onDrawn: (corners: [number, number][]) => void): () => void {
  const container = map.getContainer();
  const drawn = L.polygon([], LASSO_STYLE).addTo(map);
  let corners: [number, number][] | null = null;
  const at = (event: PointerEvent): [number, number] => {
    const place = map.mouseEventToLatLng(event);
    return [place.lat, place.lng];
  };
  const begin = (event: PointerEvent) => {
    if (event.target instanceof Element && event.target.closest('.leaflet-control, button') !== null) return;
    event.preventDefault();
    corners = [at(event)];
    container.setPointerCapture(event.pointerId);
  };
  const go = (event: PointerEvent) => {
    if (corners === null) return;
    corners.push(at(event));
    drawn.setLatLngs(corners);
  };
  const end = () => {
    if (corners !== null && corners.length >= LEAST_CORNERS) onDrawn(corners);
    corners = null;
  };
  map.dragging.disable();
  container.classList.add('lassoing');
  container.addEventListener('pointerdown', begin);
  container.addEventListener('pointermove', go);
  container.addEventListener('pointerup', end);
  return () => {
    map.dragging.enable();
    container.classList.remove('lassoing');
    container.removeEventListener('pointerdown', begin);
    container.removeEventListener('pointermove', go);
    container.removeEventListener('pointerup', end);
    drawn.remove();
  };
}
