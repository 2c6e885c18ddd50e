// Points, paths and areas: taken from the phone's position, or typed where it has none.
import { useState } from 'react';
import type { Json } from '../../engine/types';
import type { AnswerProps } from './props';
import { field } from './props';

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

function positionHere(): Promise<Position> {
  return new Promise((resolve, reject) => {
    if (!('geolocation' in navigator)) {
      reject(new Error('no position'));
      return;
    }
    navigator.geolocation.getCurrentPosition(
      ({ coords }) => {
        resolve({
          latitude: coords.latitude,
          longitude: coords.longitude,
          accuracy: Number(coords.accuracy.toFixed(1)),
        });
      },
      (error) => {
        reject(new Error(error.message));
      },
      { enableHighAccuracy: true, timeout: 30_000, maximumAge: 0 },
    );
  });
}

/** Takes positions one at a time; `take` is called with each. */
function TakePosition({ t, words: label, take }: { t: AnswerProps['t']; words: string; take: (p: Position) => void }) {
  const [state, setState] = useState<'idle' | 'waiting' | 'none'>('idle');
  const [typed, setTyped] = useState('');
  const start = () => {
    setState('waiting');
    positionHere().then(
      (p) => {
        setState('idle');
        take(p);
      },
      () => {
        setState('none');
      },
    );
  };
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
    <>
      <button type="button" className="answer-button" disabled={state === 'waiting'} onClick={start}>
        {state === 'waiting' ? t('waiting') : label}
      </button>
      {state === 'none' && (
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
      )}
    </>
  );
}

export function PointAnswer({ screen, t, labelledBy, onAnswer }: AnswerProps) {
  return (
    <div role="group" aria-labelledby={labelledBy} className="answer-block">
      {isPosition(screen.value) && <p className="answer-shown">{words(screen.value)}</p>}
      <TakePosition t={t} words={isPosition(screen.value) ? t('takeAgain') : t('takePosition')} take={onAnswer} />
    </div>
  );
}

/** A path or an area: point after point while it is walked; fewer than its kind needs are kept until there are more. */
export function ShapeAnswer({ screen, t, labelledBy, onAnswer }: AnswerProps) {
  const given = field(screen.value, 'points');
  const points = Array.isArray(given) ? given.filter(isPosition) : [];
  const put = (next: Position[]) => {
    onAnswer(next.length > 0 ? { points: next } : null);
  };
  return (
    <div role="group" aria-labelledby={labelledBy} className="answer-block">
      {points.length > 0 && (
        <ol className="answer-points">
          {points.map((p, i) => (
            <li key={i}>{words(p)}</li>
          ))}
        </ol>
      )}
      <TakePosition
        t={t}
        words={t('addPoint')}
        take={(p) => {
          put([...points, p]);
        }}
      />
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
