// What the phone notes of itself about an interview, besides when it began and ended and by whom: the release says so.
import type { PlaceNoted, ReleaseRow } from './db';
import { changeInterview } from './kept';

export interface Noted {
  device: boolean;
  place: boolean;
  timing: boolean;
}

const ANYWAY: Noted = { device: true, place: false, timing: true };
const WAIT_MS = 60_000;

export function notedBy(release: Pick<ReleaseRow, 'compiled'> | undefined): Noted {
  const chosen = release ? (JSON.parse(release.compiled) as { paradata?: Partial<Noted> }).paradata : undefined;
  return { ...ANYWAY, ...chosen };
}

const AT_ONCE_MS = 8_000;

/** Where the phone is now, as far as it knows within some seconds; null where it does not. */
export function placeNow(): Promise<{ latitude: number; longitude: number; accuracy: number } | null> {
  if (!('geolocation' in navigator)) return Promise.resolve(null);
  return new Promise((resolve) => {
    navigator.geolocation.getCurrentPosition(
      ({ coords: { latitude, longitude, accuracy } }) => {
        resolve({ latitude, longitude, accuracy: Number(accuracy.toFixed(1)) });
      },
      () => {
        resolve(null);
      },
      { enableHighAccuracy: true, timeout: AT_ONCE_MS, maximumAge: 60_000 },
    );
  });
}

/** Note where an interview began, once the phone knows; that it could not be had is noted too. */
export function notePlace(uuid: string): void {
  // Once it is packed nothing is added any more.
  const note = (place: PlaceNoted) =>
    void changeInterview(uuid, (row) => (row.state === 'in hand' ? { ...row, place } : null)).catch(() => undefined);
  if (!('geolocation' in navigator)) {
    note({ problem: 'unavailable' });
    return;
  }
  navigator.geolocation.getCurrentPosition(
    ({ coords }) => {
      note({ latitude: coords.latitude, longitude: coords.longitude, accuracy: Number(coords.accuracy.toFixed(1)) });
    },
    (error) => {
      note({ problem: error.code === error.PERMISSION_DENIED ? 'not allowed' : 'unavailable' });
    },
    { enableHighAccuracy: true, timeout: WAIT_MS, maximumAge: 0 },
  );
}
