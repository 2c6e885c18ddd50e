// Sending a file piece by piece, from where it broke off.
import { Problem, type Schemas } from './client';

export interface Sent {
  method: 'GET' | 'POST' | 'PUT';
  body?: string | Blob;
  headers?: Record<string, string>;
}

/** What is sent of a file; `from` on, at least one byte where there is one left. */
export type Piece = (from: number) => Promise<Uint8Array<ArrayBuffer>>;

/** How a file's address is asked; `query` goes behind it. */
type Ask = (query: string, sent: Sent) => Promise<Schemas['FileReceipt']>;

/** Send a file of a question; returns the hash that the office's disk gave back. */
export async function sendInPieces(file: { kind: string; bytes: number }, piece: Piece, ask: Ask): Promise<string> {
  let { received } = await ask('', { method: 'GET' });
  for (;;) {
    const body = new Blob([await piece(received)]);
    const range = `bytes ${String(received)}-${String(received + body.size - 1)}/${String(file.bytes)}`;
    const headers: Record<string, string> = file.bytes === 0 ? {} : { 'Content-Range': range };
    try {
      const receipt = await ask(`?kind=${file.kind}`, { method: 'PUT', body, headers });
      if (receipt.hash != null) return receipt.hash;
      received = receipt.received;
    } catch (error) {
      // Another attempt got further: go on from there.
      const there = error instanceof Problem && error.code === 'wrong_place' ? error.details.received : undefined;
      if (typeof there !== 'number' || there === received) throw error;
      received = there;
    }
  }
}
