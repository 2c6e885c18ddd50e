// A map in the page: its sheets below, what a page draws above.
import L from 'leaflet';
import 'leaflet/dist/leaflet.css';
import { useCallback, useEffect, useState, type RefCallback } from 'react';
import { boundsOf, drawSheet, farthestOf, GROUND, NAMES } from './layers';
import './map.css';
import type { Sheet } from './sheets';

const EARTH = L.latLngBounds([-60, -170], [70, 170]);
const NAMES_FROM = 12;
const CLOSEST = 20;

/**
 * A map in the element that is given `place` as its ref; null until it stands. It shows all of its sheets first, or
 * `first` where that is given.
 */
export function useLeaflet(
  sheets: Sheet[],
  { nearer, farther }: { nearer: string; farther: string },
  first?: L.LatLngBounds,
): { map: L.Map | null; place: RefCallback<HTMLDivElement> } {
  const [map, setMap] = useState<L.Map | null>(null);
  const place = useCallback(
    (element: HTMLDivElement) => {
      const made = L.map(element, {
        zoomControl: false,
        minZoom: 0,
        maxZoom: CLOSEST,
        preferCanvas: true,
        worldCopyJump: true,
      });
      made.createPane(GROUND).style.zIndex = '250';
      made.createPane(NAMES).style.zIndex = '350';
      made.attributionControl.setPrefix(false);
      L.control.zoom({ position: 'bottomright', zoomInTitle: nearer, zoomOutTitle: farther }).addTo(made);
      L.control.scale({ imperial: false, position: 'bottomleft' }).addTo(made);
      made.fitBounds(EARTH);
      made.on('zoomend', () => {
        element.classList.toggle('near', made.getZoom() >= NAMES_FROM);
      });
      // Where the page gives it more room, as when a phone is turned.
      const grown = new ResizeObserver(() => made.invalidateSize());
      grown.observe(element);
      setMap(made);
      return () => {
        grown.disconnect();
        made.remove();
        setMap(null);
      };
    },
    [nearer, farther],
  );

  const hashes = sheets.map((sheet) => sheet.line.hash).join();
  useEffect(() => {
    if (map === null) return;
    let live = true;
    const drawn: (() => void)[] = [];
    const bounds = sheets.map(boundsOf);
    const [one, ...others] = bounds;
    const shown =
      first ??
      (one === undefined
        ? EARTH
        : others.reduce((all, more) => all.extend(more), L.latLngBounds(one.getSouthWest(), one.getNorthEast())));
    map.fitBounds(shown, { animate: false, maxZoom: 18 });
    // Nearer than all of it, where that shows nothing.
    const farthest = Math.min(...sheets.map(farthestOf));
    if (first === undefined && sheets.length > 0 && map.getZoom() < farthest) map.setZoom(farthest, { animate: false });
    for (const sheet of sheets)
      drawSheet(map, sheet).then(
        (remove) => {
          if (live) drawn.push(remove);
          else remove();
        },
        (error: unknown) => {
          // The other sheets and everything above them are shown without it.
          console.error(error);
        },
      );
    return () => {
      live = false;
      drawn.forEach((remove) => {
        remove();
      });
    };
    // A list made anew of the same sheets draws nothing anew, and the first sight is the first one only.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [map, hashes]);
  return { map, place };
}
