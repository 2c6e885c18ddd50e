// Thousands of marks on a map, drawn on one canvas: none of them is an object of its own.
import L from 'leaflet';

/** What a mark looks like: told apart by its shape first, by its colour second. */
export interface Look {
  shape: 'disc' | 'ring' | 'half' | 'square' | 'cross' | 'triangle' | 'bar';
  colour: string;
}

export interface Mark {
  id: number;
  latitude: number;
  longitude: number;
  label: string;
  look?: Look;
}

const RADIUS = 5;
/** Shapes are told apart only if they are a little larger. */
const LOOKED = 6.5;
/** How far a ring stands round a mark. */
const RINGED = 11;
/** A finger or a pointer this near to a mark means it. */
const REACH = 9;
/** Marks are sought in squares of this many pixels. */
const SQUARE = 64;

interface Placed {
  mark: Mark;
  at: L.Point;
}

/** The marks by the square of the screen that they lie in. */
function inSquares(placed: Placed[]): Map<string, Placed[]> {
  const squares = new Map<string, Placed[]>();
  for (const one of placed) {
    const key = squareOf(one.at.x, one.at.y);
    const there = squares.get(key);
    if (there === undefined) squares.set(key, [one]);
    else there.push(one);
  }
  return squares;
}

const squareOf = (x: number, y: number): string =>
  `${String(Math.floor(x / SQUARE))} ${String(Math.floor(y / SQUARE))}`;

/** The nearest of some marks to a place on the screen, within reach; undefined where there is none. */
export function nearestMark(squares: ReadonlyMap<string, Placed[]>, x: number, y: number): Mark | undefined {
  let found: Mark | undefined;
  let least = REACH;
  for (const east of [-SQUARE, 0, SQUARE])
    for (const south of [-SQUARE, 0, SQUARE])
      for (const { mark, at } of squares.get(squareOf(x + east, y + south)) ?? []) {
        const apart = Math.hypot(at.x - x, at.y - y);
        if (apart <= least) [found, least] = [mark, apart];
      }
  return found;
}

export const placedIn = (marks: Mark[], at: (mark: Mark) => L.Point): Map<string, Placed[]> =>
  inSquares(marks.map((mark) => ({ mark, at: at(mark) })));

const PLAIN: Look = { shape: 'disc', colour: 'rgb(31 85 64 / 65%)' };

/** Draw one mark with its middle at (x, y), `radius` pixels in each direction. */
export function drawMark(
  context: CanvasRenderingContext2D,
  { shape, colour }: Look,
  x: number,
  y: number,
  radius: number,
) {
  const disc = () => {
    context.beginPath();
    context.arc(x, y, radius, 0, 2 * Math.PI);
  };
  context.lineWidth = 1;
  context.fillStyle = colour;
  context.strokeStyle = '#fff';
  if (shape === 'disc') {
    disc();
    context.fill();
    context.stroke();
  } else if (shape === 'ring' || shape === 'half') {
    context.lineWidth = 1.6;
    context.strokeStyle = colour;
    context.fillStyle = '#fff';
    disc();
    context.fill();
    context.stroke();
    if (shape === 'ring') return;
    context.fillStyle = colour;
    context.beginPath();
    context.arc(x, y, radius, Math.PI / 2, -Math.PI / 2);
    context.fill();
  } else if (shape === 'square' || shape === 'bar') {
    const high = shape === 'square' ? 0.85 * radius : 0.35 * radius;
    const wide = shape === 'square' ? high : radius;
    context.fillRect(x - wide, y - high, 2 * wide, 2 * high);
    context.strokeRect(x - wide, y - high, 2 * wide, 2 * high);
  } else if (shape === 'triangle') {
    context.beginPath();
    context.moveTo(x, y - radius);
    context.lineTo(x + radius, y + 0.8 * radius);
    context.lineTo(x - radius, y + 0.8 * radius);
    context.closePath();
    context.fill();
    context.stroke();
  } else {
    const reach = 0.75 * radius;
    for (const [width, style] of [
      [4.4, '#fff'],
      [2.4, colour],
    ] as const) {
      context.lineWidth = width;
      context.strokeStyle = style;
      context.beginPath();
      context.moveTo(x - reach, y - reach);
      context.lineTo(x + reach, y + reach);
      context.moveTo(x + reach, y - reach);
      context.lineTo(x - reach, y + reach);
      context.stroke();
    }
  }
}

/** More marks than this in one square are drawn as one, with how many there are; nearer than this zoom none are. */
const MOST_IN_SQUARE = 6;
const ALL_APART_FROM = 16;

/** Many marks drawn as one: how many look how, and where they lie. */
export interface Cluster {
  at: L.Point;
  radius: number;
  count: number;
  looks: [Look, number][];
  ids: number[];
  bounds: L.LatLngBounds;
}

/** The marks of one square as a cluster, in the middle of where they lie. */
export function clusterOf(placed: readonly Placed[]): Cluster {
  const looks = new Map<Look, number>();
  const middle = L.point(0, 0);
  for (const { mark, at } of placed) {
    looks.set(mark.look ?? PLAIN, (looks.get(mark.look ?? PLAIN) ?? 0) + 1);
    middle.x += at.x / placed.length;
    middle.y += at.y / placed.length;
  }
  return {
    at: middle,
    radius: 11 + 2.2 * Math.log2(placed.length / MOST_IN_SQUARE + 1),
    count: placed.length,
    looks: [...looks].sort((a, b) => b[1] - a[1]),
    ids: placed.map(({ mark }) => mark.id),
    bounds: L.latLngBounds(placed.map(({ mark }) => [mark.latitude, mark.longitude])),
  };
}

/** Clusters of the squares that hold many; those that would cover each other become one. */
export function clustersOf(squares: readonly Placed[][]): Cluster[] {
  const found: { placed: Placed[]; cluster: Cluster }[] = [];
  for (const square of squares) {
    let one = { placed: square, cluster: clusterOf(square) };
    for (let over = 0; over >= 0;) {
      const { at, radius } = one.cluster;
      over = found.findIndex(({ cluster }) => cluster.at.distanceTo(at) < cluster.radius + radius);
      const [other] = over < 0 ? [] : found.splice(over, 1);
      if (other === undefined) continue;
      const placed = [...other.placed, ...one.placed];
      one = { placed, cluster: clusterOf(placed) };
    }
    found.push(one);
  }
  return found.map(({ cluster }) => cluster);
}

/** A ring of the colours of what is in it, with the number. */
function drawCluster(context: CanvasRenderingContext2D, { at, radius, count, looks }: Cluster) {
  context.fillStyle = '#fff';
  context.beginPath();
  context.arc(at.x, at.y, radius + 3, 0, 2 * Math.PI);
  context.fill();
  let from = -Math.PI / 2;
  context.lineWidth = 4;
  for (const [look, many] of looks) {
    const to = from + (2 * Math.PI * many) / count;
    context.strokeStyle = look.colour;
    context.beginPath();
    context.arc(at.x, at.y, radius, from, to);
    context.stroke();
    from = to;
  }
  context.fillStyle = '#1f2a26';
  context.font = '600 12px "IBM Plex Sans", sans-serif';
  context.textAlign = 'center';
  context.textBaseline = 'middle';
  context.fillText(String(count), at.x, at.y + 0.5);
}

function drawRing(context: CanvasRenderingContext2D, { x, y }: L.Point, radius: number) {
  context.lineWidth = 3;
  context.strokeStyle = '#d9941e';
  context.beginPath();
  context.arc(x, y, radius, 0, 2 * Math.PI);
  context.stroke();
}

/** A layer of marks; `onChoose` is told the one that was pressed. */
export class Marks extends L.Layer {
  private readonly canvas = document.createElement('canvas');
  private readonly tip = L.tooltip({ direction: 'top', offset: [0, -6] });
  private squares: ReadonlyMap<string, Placed[]> = new Map();
  private clusters: Cluster[] = [];
  private ringed: ReadonlySet<number> = new Set();

  constructor(
    private readonly marks: Mark[],
    private readonly onChoose: (id: number) => void,
    /** Whether many at one place are drawn as one, from afar. */
    private readonly gathers = false,
  ) {
    super();
  }

  /** Draw a ring round some marks, and round what they are gathered in. */
  ring(ids: ReadonlySet<number>): this {
    this.ringed = ids;
    if (this.canvas.isConnected) this.draw();
    return this;
  }

  override onAdd(map: L.Map): this {
    this.canvas.className = 'map-marks leaflet-zoom-hide';
    map.getPane('overlayPane')?.append(this.canvas);
    map.on('moveend resize', this.draw);
    map.on('click', this.choose);
    map.on('mousemove', this.point);
    this.draw();
    return this;
  }

  override onRemove(map: L.Map): this {
    map.off('moveend resize', this.draw);
    map.off('click', this.choose);
    map.off('mousemove', this.point);
    map.getContainer().style.cursor = '';
    this.tip.remove();
    this.canvas.remove();
    return this;
  }

  private readonly draw = () => {
    const map = this._map;
    const size = map.getSize();
    const sharp = Math.max(1, window.devicePixelRatio);
    L.DomUtil.setPosition(this.canvas, map.containerPointToLayerPoint([0, 0]));
    [this.canvas.width, this.canvas.height] = [size.x * sharp, size.y * sharp];
    [this.canvas.style.width, this.canvas.style.height] = [`${String(size.x)}px`, `${String(size.y)}px`];
    const seen = map.getBounds().pad(0.05);
    const inside = this.marks.filter(({ latitude, longitude }) => seen.contains([latitude, longitude]));
    this.clusters = [];
    const at = ({ latitude, longitude }: Mark) => map.latLngToContainerPoint([latitude, longitude]);
    const apart = this.gathers && map.getZoom() < ALL_APART_FROM ? this.gathered(inside) : inside;
    this.squares = placedIn(apart, at);
    const context = this.canvas.getContext('2d');
    if (context === null) return;
    context.scale(sharp, sharp);
    for (const square of this.squares.values())
      for (const { mark, at } of square) {
        const look = mark.look ?? PLAIN;
        drawMark(context, look, at.x, at.y, look === PLAIN ? RADIUS : LOOKED);
        if (this.ringed.has(mark.id)) drawRing(context, at, RINGED);
      }
    for (const cluster of this.clusters) {
      drawCluster(context, cluster);
      if (cluster.ids.some((id) => this.ringed.has(id))) drawRing(context, cluster.at, cluster.radius + RINGED / 2);
    }
  };

  /** Those that stand alone; all others are in the clusters. Squares lie on the ground, so that moving changes none. */
  private gathered(marks: Mark[]): Mark[] {
    const map = this._map;
    const corner = map.getPixelBounds().min ?? L.point(0, 0);
    const onGround = placedIn(marks, ({ latitude, longitude }) => map.project([latitude, longitude]));
    const alone: Mark[] = [];
    const many: Placed[][] = [];
    for (const placed of onGround.values()) {
      if (placed.length <= MOST_IN_SQUARE) alone.push(...placed.map(({ mark }) => mark));
      else many.push(placed);
    }
    this.clusters = clustersOf(many).map((cluster) => ({ ...cluster, at: cluster.at.subtract(corner) }));
    return alone;
  }

  private clusterAt(x: number, y: number): Cluster | undefined {
    return this.clusters.find(({ at, radius }) => Math.hypot(at.x - x, at.y - y) <= radius + 3);
  }

  private readonly choose = ({ containerPoint: { x, y } }: L.LeafletMouseEvent) => {
    const cluster = this.clusterAt(x, y);
    if (cluster !== undefined) {
      this._map.fitBounds(cluster.bounds, { maxZoom: ALL_APART_FROM, padding: [40, 40], animate: false });
      return;
    }
    const mark = nearestMark(this.squares, x, y);
    if (mark !== undefined) this.onChoose(mark.id);
  };

  private readonly point = ({ containerPoint: { x, y } }: L.LeafletMouseEvent) => {
    const inCluster = this.clusterAt(x, y) !== undefined;
    const mark = inCluster ? undefined : nearestMark(this.squares, x, y);
    this._map.getContainer().style.cursor = mark === undefined && !inCluster ? '' : 'pointer';
    if (mark === undefined) {
      this.tip.remove();
      return;
    }
    const words = document.createElement('span');
    words.textContent = mark.label;
    this.tip.setLatLng([mark.latitude, mark.longitude]).setContent(words).openOn(this._map);
  };
}
