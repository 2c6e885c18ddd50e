// The maps that were kept, as they look now.
import { lazy, Suspense, useMemo } from 'react';
import { Link } from 'react-router';
import { OutcomeMark } from '../../../shared/map/OutcomeMark';
import { SheetsContext } from '../../../shared/map/sheets';
import { locale, t } from '../../texts/texts';
import { useMay, useStudy } from '../../ui/study';
import { drawable, useMaps } from '../field/maps/useMaps';
import { groupWords, layerLink, lookOfGroup, useGround, useLayers, type Layer } from '../plan/ground/ground';

const GroundMap = lazy(() => import('../plan/ground/GroundMap'));
const MOST_SHOWN = 3;
const number = new Intl.NumberFormat(locale);

export function KeptMaps() {
  const study = useStudy();
  const may = useMay();
  const layers = useLayers(study.id, may('field.read'));
  const maps = useMaps(study.id);
  const sheets = useMemo(() => (maps.data ?? []).map(drawable), [maps.data]);
  if (layers.data === undefined || layers.data.length === 0) return null;
  return (
    <SheetsContext.Provider value={sheets}>
      {layers.data.slice(0, MOST_SHOWN).map((layer) => (
        <KeptMap key={layer.id} layer={layer} />
      ))}
    </SheetsContext.Provider>
  );
}

function KeptMap({ layer }: { layer: Layer }) {
  const study = useStudy();
  const { of, named, by, day, narrow } = layer.query;
  const { data: ground } = useGround(study.id, of, named, by, day, narrow);
  const shown = useMemo(() => {
    const off = new Set(layer.off);
    return ground?.ids
      .map((_, at) => at)
      .filter((at) => !off.has(ground.groups[ground.group_of[at] ?? 0]?.value ?? ''));
  }, [ground, layer.off]);
  if (ground === undefined || shown === undefined) return null;
  return (
    <section className="sheet kept-map" aria-label={layer.name}>
      <h2 className="sheet-head">
        <Link to={layerLink(study.id, layer)}>{layer.name}</Link>
        <span className="muted small"> {t('logbook.onMap', { count: shown.length })}</span>
      </h2>
      <div className="kept-map-ground">
        <Suspense fallback={<div className="map" />}>
          <GroundMap ground={ground} shown={shown} chosen={null} onChoose={() => undefined} />
        </Suspense>
      </div>
      <ul className="kept-map-groups">
        {ground.groups.map((group, at) =>
          layer.off.includes(group.value) ? null : (
            <li key={group.value}>
              <OutcomeMark look={lookOfGroup(group, at, ground.by, ground.graded)} />
              <span>{groupWords(group, ground.by)}</span>
              <b>{number.format(group.points)}</b>
            </li>
          ),
        )}
      </ul>
    </section>
  );
}
