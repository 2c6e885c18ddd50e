// The map itself, fetched by who looks at it: oneself, today's visits, and where to go next.
import L from 'leaflet';
import { useContext, useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { Marks } from '../../shared/map/marks';
import { OutcomeMark } from '../../shared/map/OutcomeMark';
import { SheetsContext } from '../../shared/map/sheets';
import { ToMe } from '../../shared/map/ToMe';
import { useLeaflet } from '../../shared/map/useLeaflet';
import { useOneself } from '../../shared/map/useOneself';
import { useFrame, usePlanned } from '../store/day';
import { useTexts } from '../texts/texts';
import { distance, lookOf, nextWords } from './visits';

const NEXT: L.CircleMarkerOptions = { radius: 14, color: '#d9941e', weight: 4, fill: false, interactive: false };
const WAY: L.PolylineOptions = { color: '#1f5540', weight: 3, dashArray: '2 8', interactive: false };
const NEAR = 15;

export default function Ground() {
  const { t, language } = useTexts();
  const sheets = useContext(SheetsContext);
  const { map, place } = useLeaflet(sheets, { nearer: t('nearer'), farther: t('farther') });
  const fix = useOneself(map);
  const frame = useFrame();
  const planned = usePlanned(frame, fix);
  const [picked, setPicked] = useState('');
  const placed = planned?.filter((one) => one.place !== null) ?? null;
  const next = placed?.find((one) => one.visit === picked) ?? placed?.find((one) => one.line.is_due);
  const drawnFor = JSON.stringify(placed?.map((one) => [one.visit, one.attempts.at(-1)?.identity]));

  useEffect(() => {
    if (map === null || placed === null || frame === undefined) return;
    const marks = placed.map((visit, id) => ({
      id,
      latitude: visit.place?.[0] ?? 0,
      longitude: visit.place?.[1] ?? 0,
      label: visit.label,
      look: lookOf(visit, frame),
    }));
    const drawn = new Marks(marks, (id) => {
      setPicked(placed[id]?.visit ?? '');
    }).addTo(map);
    return () => {
      drawn.remove();
    };
    // Drawn anew when there are other visits, or one of them was tried.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [map, drawnFor, frame]);

  const [north, east] = next?.place ?? [null, null];
  useEffect(() => {
    if (map === null || north == null || east == null) return;
    const there: L.LatLngTuple = [north, east];
    const drawn = L.layerGroup([
      L.circleMarker(there, NEXT),
      ...(fix === null ? [] : [L.polyline([[fix.latitude, fix.longitude], there], WAY)]),
    ]).addTo(map);
    return () => {
      drawn.remove();
    };
  }, [map, north, east, fix]);

  // Once the next visit is known, it is looked at; where somebody looks afterwards is theirs.
  const looked = useRef(false);
  useEffect(() => {
    if (map === null || north == null || east == null) return;
    if (!looked.current || !map.getBounds().contains([north, east]))
      map.setView([north, east], Math.max(NEAR, map.getZoom()), { animate: false });
    looked.current = true;
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [map, next?.visit]);

  return (
    <>
      <main className="map">
        <div ref={place} />
        <ToMe map={map} fix={fix} label={t('whereIAm')} />
        <p className="map-said" role="status">
          {sheets.length === 0 ? t('mapComing') : fix === null ? t('noFix') : `±${String(Math.round(fix.accuracy))} m`}
        </p>
      </main>
      {next !== undefined && frame !== undefined && (
        <Link className="map-next" to={`/visits/${next.visit}`}>
          <OutcomeMark look={lookOf(next, frame)} />
          <span className="line-text">
            <b>
              <bdi>{next.label}</bdi>
            </b>
            <span>{[next.area, nextWords(next, frame, t, language)].filter((piece) => piece !== '').join(' · ')}</span>
          </span>
          {next.line.metres !== null && <b className="map-far">{distance(next.line.metres, t)} ›</b>}
        </Link>
      )}
    </>
  );
}
