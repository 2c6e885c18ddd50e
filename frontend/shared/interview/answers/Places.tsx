// Points, paths and areas: taken while the position becomes accurate, walked along, or typed where there is none.
import { lazy, Suspense, useContext, useEffect, useRef, useState } from 'react';
import type { Json } from '../../engine/types';
import { holdInUse } from '../inUse';
import { metresBetween, PositioningContext, type Fix } from '../positioning';
import { SheetsContext } from '../../map/sheets';
import type { AnswerProps } from './props';
import { field } from './props';

// Maps are fetched by who draws on one.
const DrawOnMap = lazy(() => import('../../map/DrawOnMap'));

interface Position {
  [key: string]: Json;
  latitude: number;
  longitude: number;
  accuracy: number | null;
}

const isPosition = (value: Json): value is Position =>
  typeof field(value, 'latitude') === 'number' && typeof field(value, 'longitude') === 'number';

const words = (p: Position): string =>
  `${p.latitude.toFixed(5)}, ${p.longitude.toFixed(5)}${p.accuracy === null ? '' : ` ±${String(Math.round(p.accuracy))} m`}`;

type Watch = { state: 'off' } | { state: 'on'; fix: Fix | null } | { state: 'none' };

/** Follow the position while `use` wants more of it: it returns whether to go on. */
function useWatching(use: (fix: Fix) => boolean) {
  const { positioning } = useContext(PositioningContext);
  const [watch, setWatch] = useState<Watch>({ state: 'off' });
  const stopped = useRef<() => void>(() => undefined);
  const latest = useRef(use);
  useEffect(() => {
    latest.current = use;
  });
  useEffect(
    () => () => {
      stopped.current();
    },
    [],
  );
  const stop = () => {
    stopped.current();
    stopped.current = () => undefined;
    setWatch({ state: 'off' });
  };
  const start = () => {
    stopped.current();
    setWatch({ state: 'on', fix: null });
    const letGo = holdInUse();
    const ended = positioning.watch(
      (fix) => {
        if (latest.current(fix)) setWatch({ state: 'on', fix });
        else stop();
      },
      () => {
        // Nothing for a moment is no end, once there was something.
        setWatch((now) => (now.state === 'on' && now.fix !== null ? now : { state: 'none' }));
      },
    );
    stopped.current = () => {
      letGo();
      ended();
    };
  };
  return { watch, start, stop };
}

/** A point: live until it is accurate enough and kept by itself, or kept by hand before that. */
export function PointAnswer({ screen, t, labelledBy, onAnswer }: AnswerProps) {
  const { metres } = useContext(PositioningContext);
  const { watch, start, stop } = useWatching((fix) => {
    if (fix.accuracy > metres) return true;
    onAnswer({ ...fix });
    return false;
  });
  return (
    <div role="group" aria-labelledby={labelledBy} className="answer-block">
      {isPosition(screen.value) && watch.state !== 'on' && <p className="answer-shown">{words(screen.value)}</p>}
      {watch.state === 'on' ? (
        <>
          <Accuracy fix={watch.fix} metres={metres} t={t} />
          {watch.fix !== null && (
            <button
              type="button"
              className="answer-button"
              onClick={() => {
                onAnswer(watch.fix === null ? null : { ...watch.fix });
                stop();
              }}
            >
              {t('keepThis', { metres: Math.round(watch.fix.accuracy) })}
            </button>
          )}
          <button type="button" className="answer-button quiet" onClick={stop}>
            {t('stop')}
          </button>
        </>
      ) : (
        <button type="button" className="answer-button" onClick={start}>
          {isPosition(screen.value) ? t('takeAgain') : t('takePosition')}
        </button>
      )}
      {watch.state !== 'on' && (
        <OnMap
          kind="point"
          begins={isPosition(screen.value) ? [screen.value] : []}
          t={t}
          onDone={([corner]) => {
            if (corner) onAnswer({ ...corner });
          }}
        />
      )}
      {watch.state === 'none' && <TypedPosition t={t} take={onAnswer} />}
    </div>
  );
}

/** The way to the map, where there is a sheet of one. */
function OnMap({
  kind,
  begins,
  t,
  onDone,
}: {
  kind: 'point' | 'path' | 'area';
  begins: Position[];
  t: AnswerProps['t'];
  onDone: (corners: Position[]) => void;
}) {
  const sheets = useContext(SheetsContext);
  const [open, setOpen] = useState(false);
  if (sheets.length === 0) return null;
  const words = t(kind === 'point' ? 'setOnMap' : 'drawOnMap');
  if (!open)
    return (
      <button
        type="button"
        className="answer-button quiet"
        onClick={() => {
          setOpen(true);
        }}
      >
        {words}
      </button>
    );
  return (
    <Suspense fallback={<p className="question-instruction">{t('waiting')}</p>}>
      <DrawOnMap
        kind={kind}
        begins={begins}
        t={t}
        label={words}
        onDone={(corners) => {
          setOpen(false);
          onDone(corners.map((corner) => ({ ...corner })));
        }}
        onCancel={() => {
          setOpen(false);
        }}
      />
    </Suspense>
  );
}

const WORST_SHOWN = 100;

/** How accurate the position is by now, and from where on it is kept by itself. */
function Accuracy({ fix, metres, t }: { fix: Fix | null; metres: number; t: AnswerProps['t'] }) {
  const share = fix === null ? 0 : Math.max(0, 1 - (fix.accuracy - metres) / (WORST_SHOWN - metres));
  return (
    <div className="accuracy" role="status">
      <p className="answer-shown large">{fix === null ? t('waiting') : `±${String(Math.round(fix.accuracy))} m`}</p>
      <div className="accuracy-bar" aria-hidden>
        <span style={{ width: `${String(Math.min(100, 100 * share))}%` }} />
      </div>
      <p className="question-instruction">{t('keptWithin', { metres })}</p>
    </div>
  );
}

/** A position that is typed, where none can be had. */
function TypedPosition({ t, take }: { t: AnswerProps['t']; take: (p: Position) => void }) {
  const [typed, setTyped] = useState('');
  const enter = (text: string) => {
    setTyped(text);
    const [latitude, longitude] = text
      .split(/[,;\s]+/)
      .filter((x) => x !== '')
      .map(Number);
    if (latitude !== undefined && longitude !== undefined && Math.abs(latitude) <= 90 && Math.abs(longitude) <= 180)
      take({ latitude, longitude, accuracy: null });
  };
  return (
    <label className="answer-hint">
      {t('noPosition')}
      <input
        className="typed mono"
        inputMode="text"
        placeholder="0.12345, 6.78901"
        value={typed}
        onChange={(event) => {
          enter(event.target.value);
        }}
      />
    </label>
  );
}

/** While a path is walked, a point is added after so many metres, or what the accuracy can tell apart. */
const STRIDE_METRES = 5;

/** A path or an area: walked along, or point after point; fewer than its kind needs are kept until there are more. */
export function ShapeAnswer({ screen, t, labelledBy, onAnswer }: AnswerProps) {
  const given = field(screen.value, 'points');
  const points = Array.isArray(given) ? given.filter(isPosition) : [];
  const put = (next: Position[]) => {
    onAnswer(next.length > 0 ? { points: next } : null);
  };
  const walked = useWatching((fix) => {
    const last = points.at(-1);
    if (last === undefined || metresBetween(last, fix) >= Math.max(STRIDE_METRES, fix.accuracy))
      put([...points, { ...fix }]);
    return true;
  });
  const once = useWatching((fix) => {
    put([...points, { ...fix }]);
    return false;
  });
  const isWalking = walked.watch.state === 'on';
  const isArea = screen.kind === 'area';
  return (
    <div role="group" aria-labelledby={labelledBy} className="answer-block">
      {points.length > 0 && <Sketch points={points} closed={isArea} />}
      {points.length > 0 && (
        <p className="answer-shown" role="status">
          {t('pointsSoFar', { count: points.length, metres: Math.round(lengthOf(points, isArea)) })}
        </p>
      )}
      <button
        type="button"
        className="answer-button"
        aria-pressed={isWalking}
        onClick={isWalking ? walked.stop : walked.start}
      >
        {isWalking ? t('stopWalking') : t('walkAlong')}
      </button>
      {!isWalking && (
        <button type="button" className="answer-button" disabled={once.watch.state === 'on'} onClick={once.start}>
          {once.watch.state === 'on' ? t('waiting') : t('addPoint')}
        </button>
      )}
      {!isWalking && <OnMap kind={isArea ? 'area' : 'path'} begins={points} t={t} onDone={put} />}
      {(once.watch.state === 'none' || walked.watch.state === 'none') && (
        <TypedPosition
          key={points.length}
          t={t}
          take={(p) => {
            put([...points, p]);
          }}
        />
      )}
      {points.length > 0 && (
        <button
          type="button"
          className="answer-button quiet"
          onClick={() => {
            put(points.slice(0, -1));
          }}
        >
          {t('removeLast')}
        </button>
      )}
    </div>
  );
}

/** How long a path is, or the way round an area, in metres. */
function lengthOf(points: Position[], closed: boolean): number {
  const [first] = points;
  const along = closed && first !== undefined ? [...points, first] : points;
  return along.slice(1).reduce((sum, point, at) => sum + metresBetween(along[at] ?? point, point), 0);
}

const SKETCH = 100;
const MARGIN = 8;

/** The shape as it is so far, north at the top. */
function Sketch({ points, closed }: { points: Position[]; closed: boolean }) {
  const shrunk = Math.cos(((points[0]?.latitude ?? 0) * Math.PI) / 180);
  const flat = points.map((p) => ({ x: p.longitude * shrunk, y: -p.latitude }));
  const [left, top] = [Math.min(...flat.map((p) => p.x)), Math.min(...flat.map((p) => p.y))];
  const [width, height] = [Math.max(...flat.map((p) => p.x - left)), Math.max(...flat.map((p) => p.y - top))];
  const scale = (SKETCH - 2 * MARGIN) / (Math.max(width, height) || 1);
  const drawn = flat.map(({ x, y }) => ({
    x: SKETCH / 2 + (x - left - width / 2) * scale,
    y: SKETCH / 2 + (y - top - height / 2) * scale,
  }));
  const outline = drawn.map(({ x, y }) => `${x.toFixed(1)},${y.toFixed(1)}`).join(' ');
  return (
    <svg className="sketch" viewBox={`0 0 ${String(SKETCH)} ${String(SKETCH)}`} aria-hidden>
      {closed ? <polygon points={outline} /> : <polyline points={outline} />}
      {drawn.map(({ x, y }, at) => (
        <circle key={at} cx={x} cy={y} r={at === drawn.length - 1 ? 3 : 1.8} />
      ))}
    </svg>
  );
}
