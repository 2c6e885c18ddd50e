// Layers that Leaflet draws: shapes, tiles that are pictures, tiles that hold shapes.
import { VectorTile, type VectorTileFeature } from '@mapbox/vector-tile';
import L from 'leaflet';
import Pbf from 'pbf';
import { PMTiles, type Source } from 'pmtiles';
import type { Sheet } from './sheets';
import { drawnAs, nameOf, whatIs } from './style';

/** Names are elements of the page; more of them would make moving the map slow. */
const MOST_NAMES = 300;

/** Where sheets lie: below everything that a page draws. */
export const GROUND = 'ground';
/** Names lie below what a page draws: a mark is never written over. */
export const NAMES = 'names';

/** Draw a sheet on a map; what is returned takes it away again. */
export async function drawSheet(map: L.Map, sheet: Sheet): Promise<() => void> {
  if (sheet.line.form === 'shapes') return drawShapes(map, await shapesIn(sheet));
  const layer = tiles(sheet).addTo(map);
  return () => {
    layer.remove();
  };
}

export const boundsOf = ({ line }: Sheet): L.LatLngBounds => {
  const [west = -180, south = -85, east = 180, north = 85] = line.bounds;
  return L.latLngBounds([south, west], [north, east]);
};

async function shapesIn(sheet: Sheet): Promise<GeoJSON.FeatureCollection> {
  const content = await sheet.read(0, sheet.line.bytes);
  return JSON.parse(new TextDecoder().decode(content)) as GeoJSON.FeatureCollection;
}

function drawShapes(map: L.Map, whole: GeoJSON.FeatureCollection): () => void {
  let names = 0;
  const renderer = L.canvas({ padding: 0.5, pane: GROUND });
  // What lies below is drawn first: land, then areas, then roads, then places.
  const order = ['water', 'land', 'green', 'built', '', 'area', 'road', 'place'];
  const place = (feature: GeoJSON.Feature) => order.indexOf(whatIs(feature.properties ?? {}));
  whole.features.sort((a, b) => place(a) - place(b));
  const options: L.GeoJSONOptions & { renderer: L.Renderer } = {
    renderer,
    interactive: false,
    style: (feature) =>
      drawnAs(
        whatIs((feature?.properties ?? {}) as Record<string, unknown>),
        feature?.geometry.type.includes('Polygon') === true,
      ),
    pointToLayer: (_feature, at) =>
      L.circleMarker(at, { radius: 3, color: '#8d8672', weight: 1.5, fillOpacity: 1, interactive: false }),
    onEachFeature: (feature, layer) => {
      const properties = (feature.properties ?? {}) as Record<string, unknown>;
      const name = nameOf(properties);
      const what = whatIs(properties);
      if (name === '' || what === 'road' || names >= MOST_NAMES) return;
      names += 1;
      layer.bindTooltip(document.createTextNode(name) as unknown as HTMLElement, {
        permanent: true,
        direction: 'center',
        pane: NAMES,
        className: what === 'land' ? 'map-name land' : 'map-name',
      });
    },
  };
  const layer = L.geoJSON(whole, { ...options, pane: GROUND }).addTo(map);
  const roads = layer.getLayers().filter((one): one is L.Path => {
    const { feature } = one as L.Layer & { feature?: GeoJSON.Feature };
    return one instanceof L.Path && whatIs(feature?.properties ?? {}) === 'road';
  });
  const widen = () => {
    for (const road of roads) road.setStyle({ weight: widthAt(map.getZoom()) });
  };
  map.on('zoomend', widen);
  widen();
  return () => {
    map.off('zoomend', widen);
    layer.remove();
  };
}

/** How wide a road is drawn, in pixels. */
const widthAt = (zoom: number): number => Math.max(0.5, Math.min(9, (zoom - 11) * 1.2));

function tiles(sheet: Sheet): L.Layer {
  const source: Source = {
    getKey: () => sheet.line.hash,
    getBytes: async (from, length) => ({ data: await sheet.read(from, length) }),
  };
  const archive = new PMTiles(source);
  const { min_zoom: minNativeZoom, max_zoom: maxNativeZoom, attribution, kind } = sheet.line;
  const bounds = boundsOf(sheet);
  const options: L.GridLayerOptions & { attribution: string } = {
    bounds,
    minNativeZoom,
    maxNativeZoom,
    minZoom: farthestOf(sheet),
    maxZoom: 22,
    // Whose work it is; text, whatever the file says.
    attribution: attribution.replace(/<[^>]*>/g, '').replace(/[&<>"']/g, ''),
  };
  const drawn = kind === 'pictures' ? new Pictures(archive, options) : new DrawnTiles(archive, options);
  const extent = L.rectangle(bounds, {
    color: '#8a958f',
    weight: 1,
    dashArray: '4 4',
    fill: false,
    interactive: false,
  });
  return L.layerGroup([extent, drawn]);
}

/**
 * The farthest zoom at which a sheet is drawn: each step beyond the first that its tiles are made for takes four times
 * as many of them, and a map of one city seen from afar would take all.
 */
export const farthestOf = ({ line }: Sheet): number => (line.form === 'tiles' ? Math.max(0, line.min_zoom - 2) : 0);

type Done = (error?: Error, tile?: HTMLElement) => void;

class Pictures extends L.GridLayer {
  constructor(
    private readonly archive: PMTiles,
    options: L.GridLayerOptions,
  ) {
    super(options);
  }

  protected override createTile(at: L.Coords, done: Done): HTMLElement {
    const image = document.createElement('img');
    image.alt = '';
    void this.archive
      .getZxy(at.z, at.x, at.y)
      .then((found) => {
        if (found === undefined) {
          done(undefined, image);
          return;
        }
        const address = URL.createObjectURL(new Blob([found.data]));
        image.onload = image.onerror = () => {
          URL.revokeObjectURL(address);
          done(undefined, image);
        };
        image.src = address;
      })
      .catch((error: unknown) => {
        done(error instanceof Error ? error : new Error(String(error)), image);
      });
    return image;
  }
}

class DrawnTiles extends L.GridLayer {
  constructor(
    private readonly archive: PMTiles,
    options: L.GridLayerOptions,
  ) {
    super(options);
  }

  protected override createTile(at: L.Coords, done: Done): HTMLElement {
    const canvas = document.createElement('canvas');
    const { x: wide, y: high } = this.getTileSize();
    const sharp = Math.max(1, window.devicePixelRatio);
    [canvas.width, canvas.height] = [wide * sharp, high * sharp];
    void this.archive
      .getZxy(at.z, at.x, at.y)
      .then((found) => {
        const context = canvas.getContext('2d');
        if (found !== undefined && context !== null) draw(context, new VectorTile(new Pbf(found.data)), wide * sharp);
        done(undefined, canvas);
      })
      .catch((error: unknown) => {
        done(error instanceof Error ? error : new Error(String(error)), canvas);
      });
    return canvas;
  }
}

const POINT = 1;
const POLYGON = 3;

function draw(context: CanvasRenderingContext2D, tile: VectorTile, size: number): void {
  const layers = Object.entries(tile.layers);
  const grounds = ['water', 'land', 'green', 'built', 'area', 'road', 'place', ''];
  layers.sort(([a], [b]) => grounds.indexOf(whatIs({}, a)) - grounds.indexOf(whatIs({}, b)));
  for (const [name, layer] of layers)
    for (let number = 0; number < layer.length; number += 1)
      drawFeature(context, layer.feature(number), name, size / layer.extent);
}

function drawFeature(
  context: CanvasRenderingContext2D,
  feature: VectorTileFeature,
  layer: string,
  scale: number,
): void {
  if (feature.type === POINT) {
    const name = nameOf(feature.properties);
    const [at] = feature.loadGeometry()[0] ?? [];
    if (name === '' || at === undefined) return;
    context.font = '500 13px "IBM Plex Sans", "IBM Plex Sans Arabic", sans-serif';
    context.fillStyle = '#55635c';
    context.fillText(name, at.x * scale, at.y * scale);
    return;
  }
  const isArea = feature.type === POLYGON;
  const style = drawnAs(whatIs(feature.properties, layer), isArea);
  context.beginPath();
  for (const ring of feature.loadGeometry())
    ring.forEach(({ x, y }, corner) => {
      if (corner === 0) context.moveTo(x * scale, y * scale);
      else context.lineTo(x * scale, y * scale);
    });
  if (isArea && style.fill !== false) {
    context.fillStyle = style.fillColor ?? '';
    context.fill('evenodd');
  }
  if (style.weight === 0) return;
  context.strokeStyle = style.color ?? '';
  context.lineWidth = style.weight ?? 1;
  context.stroke();
}
