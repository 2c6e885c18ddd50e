// A colleague's phone without a network saves what it holds to a file (bundle.ts). This phone takes the file along as it
// is, sealed, sends it when it has a network, and carries the receipts back.
import type { Schemas } from '../../shared/api/client';
import { db } from './db';
import { offerFile } from './offering';
import * as server from './server';

const BEGINS = [0x50, 0x4b, 0x03, 0x04];
const ENDS = [0x50, 0x4b, 0x05, 0x06];
const END_BYTES = 22;
const PIECE_BYTES = 1 << 20;

/** Why a file is not taken along: it is none of a phone's, or it was not copied whole. */
export class NoBundle extends Error {}

async function areBytesAt(file: Blob, from: number, wanted: number[]): Promise<boolean> {
  const found = new Uint8Array(await file.slice(from, from + wanted.length).arrayBuffer());
  return wanted.every((byte, at) => found[at] === byte);
}

/** Take a file along; one that is here already stays as it is. */
export async function takeAlong(file: File): Promise<void> {
  const isWhole = (await areBytesAt(file, 0, BEGINS)) && (await areBytesAt(file, file.size - END_BYTES, ENDS));
  if (!isWhole) throw new NoBundle();
  const { name: called, size: bytes } = file;
  const here = await db.carried.filter((row) => row.called === called && row.bytes === bytes).count();
  if (here > 0) return;
  const random = crypto.getRandomValues(new Uint8Array(32));
  const name = Array.from(random, (byte) => byte.toString(16).padStart(2, '0')).join('');
  // Copied into the phone's own storage: the stick it came on may be pulled out.
  const content = new Blob([await file.arrayBuffer()]);
  await db.carried.put({ name, called, bytes, content, takenAt: new Date().toISOString() });
}

/**
 * Send what was taken along and has not arrived; returns how many files did. A file that the office does not take says
 * why and stops no other; `stops` tells what concerns the whole phone.
 */
export async function sendCarried(
  token: string,
  stops: (error: unknown) => boolean,
  wordsOf: (error: unknown) => string,
): Promise<number> {
  const waiting = (await db.carried.toArray()).filter((row) => row.told === undefined);
  let arrived = 0;
  for (const row of waiting) {
    try {
      const piece = async (from: number) =>
        new Uint8Array(await row.content.slice(from, from + PIECE_BYTES).arrayBuffer());
      const told = (await server.carryIn(token, row.name, row.bytes, piece)) ?? undefined;
      // What has arrived needs no room here any more; its receipts do.
      await db.carried.update(row.name, { told, content: new Blob(), problem: undefined });
      arrived += 1;
    } catch (error) {
      if (stops(error)) throw error;
      await db.carried.update(row.name, { problem: wordsOf(error) });
    }
  }
  return arrived;
}

/** Offer the receipts for the phone that a file came from. */
export function offerReceipts(told: Schemas['BundleOut']): void {
  if (told.receipts === null) return;
  const name = `receipts-${told.device.replace(/[^\p{L}\p{N}]+/gu, '-')}.json`;
  offerFile(new Blob([JSON.stringify(told.receipts)], { type: 'application/json' }), name);
}

/** Forget a file; what it holds is on the phone that it came from until that one has its receipts. */
export const putAway = (name: string): Promise<void> => db.carried.delete(name);

/** How many files wait to be sent. */
export const waitingAlong = (): Promise<number> => db.carried.filter((row) => row.told === undefined).count();
