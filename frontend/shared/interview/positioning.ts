// Where positions come from: the device, or a stand-in that walks about where there is none, as at the desk.
import { createContext } from 'react';

/** A position in degrees (WGS 84), its accuracy in metres. */
export interface Fix {
  latitude: number;
  longitude: number;
  accuracy: number;
}

export interface Positioning {
  /** Be told every position until the function that is returned is called; `onNone` where there are none to be had. */
  watch: (onFix: (fix: Fix) => void, onNone: () => void) => () => void;
}

export const ofDevice: Positioning = {
  watch(onFix, onNone) {
    if (!('geolocation' in navigator)) {
      onNone();
      return () => undefined;
    }
    const id = navigator.geolocation.watchPosition(
      ({ coords }) => {
        onFix({
          latitude: coords.latitude,
          longitude: coords.longitude,
          accuracy: Number(coords.accuracy.toFixed(1)),
        });
      },
      onNone,
      { enableHighAccuracy: true, timeout: 30_000, maximumAge: 0 },
    );
    return () => {
      navigator.geolocation.clearWatch(id);
    };
  },
};

/** No positions at all: where whoever looks at a map is somewhere else. */
export const nowhere: Positioning = { watch: () => () => undefined };

const STEP_DEGREES = 0.0002;
const FIRST_ACCURACY = 40;
const BEST_ACCURACY = 4;

/** A walk round in a ring, told twice a second and ever more accurately. */
export const simulated: Positioning = {
  watch(onFix) {
    let told = 0;
    const tell = () => {
      const turn = told / 4;
      onFix({
        latitude: 0.3 + STEP_DEGREES * Math.sin(turn),
        longitude: 0.6 + STEP_DEGREES * Math.cos(turn),
        accuracy: Math.max(BEST_ACCURACY, FIRST_ACCURACY / (told + 1)),
      });
      told += 1;
    };
    const timer = window.setInterval(tell, 500);
    return () => {
      window.clearInterval(timer);
    };
  },
};

/** Where positions come from here, and how accurate one has to be to be kept by itself. */
export const PositioningContext = createContext<{ positioning: Positioning; metres: number }>({
  positioning: ofDevice,
  metres: 12,
});

const EARTH_METRES = 6_371_008.8;
const radians = (degrees: number): number => (degrees * Math.PI) / 180;

/** Metres between two positions on a sphere (haversine); for showing only, the engine measures on the ellipsoid. */
export function metresBetween(a: Pick<Fix, 'latitude' | 'longitude'>, b: Pick<Fix, 'latitude' | 'longitude'>): number {
  const sine = (half: number) => Math.sin(half / 2) ** 2;
  const north = sine(radians(b.latitude - a.latitude));
  const east = sine(radians(b.longitude - a.longitude));
  const chord = north + Math.cos(radians(a.latitude)) * Math.cos(radians(b.latitude)) * east;
  return 2 * EARTH_METRES * Math.asin(Math.min(1, Math.sqrt(chord)));
}
