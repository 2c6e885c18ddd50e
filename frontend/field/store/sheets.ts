// Map sheets on the phone: fetched piece by piece beside everything else, read by offset, forgotten when no longer wanted.
import { useLiveQuery } from 'dexie-react-hooks';
import { useMemo } from 'react';
import type { Schemas } from '../../shared/api/client';
import type { Sheet } from '../../shared/map/sheets';
import { db, type SheetRow } from './db';
import * as server from './server';

type Line = Schemas['SheetLine'];

export const PIECE_BYTES = 1 << 20;

let running: Promise<void> | null = null;

/** Hold the sheets that are wanted and no others; what is large is fetched only where `mayFetch`. Calls share one run. */
export function holdSheets(token: string, wanted: Line[], mayFetch: boolean): Promise<void> {
  running ??= hold(token, wanted, mayFetch).finally(() => {
    running = null;
  });
  return running;
}

async function hold(token: string, wanted: Line[], mayFetch: boolean): Promise<void> {
  const lines = new Map(wanted.map((line) => [line.hash, line]));
  const gone = (await db.sheets.toCollection().primaryKeys()).filter((hash) => !lines.has(hash));
  await db.transaction('rw', db.sheets, db.sheetPieces, async () => {
    await db.sheets.bulkDelete(gone);
    await db.sheetPieces.where('hash').anyOf(gone).delete();
    for (const line of lines.values()) {
      const known = await db.sheets.get(line.hash);
      await db.sheets.put({ hash: line.hash, line, whole: known?.whole ?? 0 });
    }
  });
  if (!mayFetch) return;
  for (const line of lines.values()) if ((await db.sheets.get(line.hash))?.whole !== 1) await fetchSheet(token, line);
}

async function fetchSheet(token: string, line: Line): Promise<void> {
  const pieces = Math.ceil(line.bytes / PIECE_BYTES);
  for (let at = await db.sheetPieces.where('hash').equals(line.hash).count(); at < pieces; at += 1) {
    const from = at * PIECE_BYTES;
    const content = await server.fetchSheet(token, line.hash, from, Math.min(from + PIECE_BYTES, line.bytes));
    await db.sheetPieces.put({ hash: line.hash, at, content });
  }
  await db.sheets.update(line.hash, { whole: 1 });
}

/** Bytes of a sheet that is here. */
export async function readSheet(hash: string, from: number, length: number): Promise<ArrayBuffer> {
  const first = Math.floor(from / PIECE_BYTES);
  const last = Math.floor((from + length - 1) / PIECE_BYTES);
  const pieces = await db.sheetPieces.where('[hash+at]').between([hash, first], [hash, last], true, true).toArray();
  const begin = from - first * PIECE_BYTES;
  const whole = new Blob(pieces.map((piece) => piece.content));
  return whole.slice(begin, begin + length).arrayBuffer();
}

/** How much of a sheet is here, between 0 and 1. */
export async function shareOf({ hash, line }: SheetRow): Promise<number> {
  const here = await db.sheetPieces.where('hash').equals(hash).count();
  return Math.min(1, (here * PIECE_BYTES) / line.bytes);
}

/** The sheets that can be drawn. */
export function useSheets(): Sheet[] {
  const rows = useLiveQuery(() => db.sheets.filter((row) => row.whole === 1).toArray(), []);
  return useMemo(
    () => (rows ?? []).map(({ hash, line }) => ({ line, read: (from, length) => readSheet(hash, from, length) })),
    [rows],
  );
}
