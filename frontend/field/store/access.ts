// Who may see what this phone keeps: nobody before the vault is open. What is in the way is one state for all pages.
import { theEngine } from '../../shared/engine/client';
import { db, type DeviceRow } from './db';
import { forgetUnsealed } from './kept';
import { resealAll } from './resealing';
import { forgetUnits } from './units';
import * as vault from './vault';

/**
 * `unpaired`: nothing is here. `waiting`: the office has not been heard yet. `choose`: a PIN is wanted. `locked`: it has
 * to be typed. `open`: the pages are shown.
 */
export type Access = 'unpaired' | 'waiting' | 'choose' | 'locked' | 'open';

/** Where this phone stands; opens a vault that has no PIN. */
export async function accessOf(device: DeviceRow | undefined): Promise<Access> {
  if (device === undefined) return 'unpaired';
  if (vault.isLetIn()) return 'choose';
  if (vault.isOpen() && !(await vault.isCurrent())) {
    vault.lock(false);
    forgetUnsealed();
    forgetUnits();
  }
  if (!vault.isOpen()) {
    const newest = await db.vault.orderBy('generation').last();
    if (newest === undefined) {
      if (device.settings === undefined && !(await hasEarlierWork())) return 'waiting';
      if (device.settings?.pin === true && !(await hasEarlierWork())) return 'choose';
      await vault.makeVault('');
      await resealAll();
    } else if (newest.pinned) return 'locked';
    else {
      await vault.enterWithoutPin();
      await resealAll();
    }
  }
  const newest = await db.vault.orderBy('generation').last();
  return device.settings?.pin === true && newest?.pinned !== true ? 'choose' : 'open';
}

/** Whether an earlier build of this page kept something here: then it is at hand before the office is heard. */
const hasEarlierWork = async (): Promise<boolean> => (await db.interviews.count()) > 0;

/** Choose a PIN, or "" for none where the profile asks for none any more. */
export async function settlePin(pin: string): Promise<void> {
  if (vault.isOpen() || vault.isLetIn()) await vault.choosePin(pin);
  else await vault.makeVault(pin);
  const device = await db.device.get('me');
  if (device?.studyKey !== undefined) await vault.wrapForStudy(device.studyKey);
  await resealAll();
}

export async function enter(pin: string): Promise<void> {
  await vault.openVault(pin);
  await resealAll();
}

/** Lock the phone; what waits to be sent still goes, and then nothing here can be opened without the PIN. */
export async function lockPhone(): Promise<void> {
  const newest = await db.vault.orderBy('generation').last();
  if (newest?.pinned !== true || !vault.isOpen()) return;
  const waiting = await db.interviews.where('state').equals('packed').count();
  vault.lock(waiting > 0);
  forgetUnsealed();
  forgetUnits();
  // The engine holds the interview that was open; its worker goes with all that it knows, and starts again when needed.
  theEngine().end();
}

/** The token with which this phone speaks to the office; null while it cannot be opened. */
export async function deviceToken(device: DeviceRow): Promise<string | null> {
  if (device.token !== undefined) return device.token;
  if (device.sealedToken === undefined || !vault.canSend()) return null;
  return vault.unsealJson<string>(device.sealedToken);
}
