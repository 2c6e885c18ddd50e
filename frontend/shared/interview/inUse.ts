// What runs while nobody touches the phone: a recording, a walk round a yard. It neither locks nor darkens meanwhile.

let running = 0;

export const isInUse = (): boolean => running > 0;

/** Say that the phone is in use until what is returned is called. */
export function holdInUse(): () => void {
  running += 1;
  let screen: WakeLockSentinel | null = null;
  let over = false;
  // Older browsers have no wake lock, and a phone short of power gives none: then the screen may go dark.
  if ('wakeLock' in navigator)
    navigator.wakeLock.request('screen').then(
      (lock) => {
        if (over) void lock.release();
        else screen = lock;
      },
      () => undefined,
    );
  return () => {
    if (over) return;
    over = true;
    running -= 1;
    void screen?.release();
  };
}
