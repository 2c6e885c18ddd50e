// What this phone can tell of itself, as far as its browser lets a page know.

interface NetworkInformation {
  saveData?: boolean;
  type?: string;
}

interface Battery {
  level: number;
}

/** Whether the network costs by what goes over it; a browser that does not tell is taken at its user's word. */
export function isMetered(): boolean {
  const network = (navigator as { connection?: NetworkInformation }).connection;
  return network?.type === 'cellular' || network?.saveData === true;
}

export interface AboutPhone {
  storage_used: number | null;
  storage_quota: number | null;
  persisted: boolean | null;
  battery: number | null;
  clock: string;
  build: string;
}

export async function aboutPhone(): Promise<AboutPhone> {
  const storage = 'storage' in navigator ? navigator.storage : undefined;
  const room: StorageEstimate = (await storage?.estimate().catch(() => undefined)) ?? {};
  return {
    storage_used: room.usage ?? null,
    storage_quota: room.quota ?? null,
    persisted: (await storage?.persisted().catch(() => undefined)) ?? null,
    battery: await batteryPercent(),
    clock: new Date().toISOString(),
    build: buildHere(),
  };
}

async function batteryPercent(): Promise<number | null> {
  const battery = await (navigator as { getBattery?: () => Promise<Battery> }).getBattery?.().catch(() => undefined);
  return battery === undefined ? null : Math.round(100 * battery.level);
}

/** The build of this page, by the name of its first script. */
function buildHere(): string {
  const script = document.querySelector('script[type="module"][src]')?.getAttribute('src') ?? '';
  return /([^/]+)\.js$/.exec(script)?.[1] ?? '';
}
