// The study's own look of a map, whoever made it: pale land, paler still what lies on it, so that marks stand out.
import type { PathOptions } from 'leaflet';

export const SEA = '#e3ecee';
const LAND = '#f6f3ea';
const COAST = '#b9b29f';
const ROAD = '#d3ccb9';
const BORDER = '#c3bba8';
const WATER = '#d3e2e7';
const GREEN = '#e8ecdb';
const BUILT = '#e6e0d1';

/** What a shape is, by the words that makers of maps use; "" for what is drawn by its geometry alone. */
type What = 'land' | 'water' | 'green' | 'built' | 'area' | 'road' | 'place' | '';

const SAID: [RegExp, What][] = [
  [/water|ocean|sea|lake|river|stream|coastline/, 'water'],
  [/forest|wood|park|grass|green|landcover|farm/, 'green'],
  [/building|built|residential|urban/, 'built'],
  [/road|street|lane|highway|transport|path|track|rail/, 'road'],
  [/boundary|admin|ward|district|area|region|zone/, 'area'],
  [/land|earth|island|coast/, 'land'],
  [/place|poi|label|town|village/, 'place'],
];

/** What a shape is, by its `kind` or class, else by the layer that it lies in. */
export function whatIs(properties: Record<string, unknown>, layer = ''): What {
  const own = [properties.kind, properties.class, properties.type].find((said) => typeof said === 'string');
  for (const said of [own, layer])
    if (typeof said === 'string') {
      const found = SAID.find(([words]) => words.test(said.toLowerCase()));
      if (found) return found[1];
    }
  return '';
}

const FILLS: Partial<Record<What, string>> = { land: LAND, water: WATER, green: GREEN, built: BUILT };

/** How a line or the ground of an area is drawn. */
export function drawnAs(what: What, isArea: boolean): PathOptions {
  if (!isArea)
    return { color: what === 'water' ? WATER : what === 'road' ? ROAD : BORDER, weight: what === 'road' ? 4 : 1.5 };
  const fill = FILLS[what];
  if (what === 'area' || fill === undefined)
    return { color: BORDER, weight: 1, dashArray: '4 4', fill: what === '', fillColor: LAND, fillOpacity: 0.6 };
  return { color: COAST, weight: what === 'land' ? 1 : 0, fill: true, fillColor: fill, fillOpacity: 1 };
}

export const nameOf = (properties: Record<string, unknown>): string =>
  typeof properties.name === 'string' ? properties.name : '';
