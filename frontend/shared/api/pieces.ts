// Sending a file piece by piece, from where it broke off.
import { Problem, type Schemas } from './client';

export interface Sent {
  method: 'GET' | 'POST' | 'PUT';
  body?: string | Blob;
  headers?: Record<string, string>;
}

/** What is sent of a file; `from` on, at least one byte where there is one left. */
export type Piece = (from: number) => Promise<Uint8Array<ArrayBuffer>>;

/** What is said of a file while it arrives. */
interface Arriving {
  received: number;
}

/**
 * Send what has so many bytes, from where it broke off; `ask` asks its address, and `isWhole` says of an answer whether
 * all has arrived. Returns that answer.
 */
export async function sendInPieces<Answer extends Arriving>(
  bytes: number,
  piece: Piece,
  ask: (sent: Sent) => Promise<Answer>,
  isWhole: (answer: Answer) => boolean,
): Promise<Answer> {
  const before = await ask({ method: 'GET' });
  if (isWhole(before)) return before;
  let { received } = before;
  for (;;) {
    const body = new Blob([await piece(received)]);
    const range = `bytes ${String(received)}-${String(received + body.size - 1)}/${String(bytes)}`;
    const headers: Record<string, string> = bytes === 0 ? {} : { 'Content-Range': range };
    try {
      const answer = await ask({ method: 'PUT', body, headers });
      if (isWhole(answer)) return answer;
      received = answer.received;
    } catch (error) {
      // Another attempt got further: go on from there.
      const there = error instanceof Problem && error.code === 'wrong_place' ? error.details.received : undefined;
      if (typeof there !== 'number' || there === received) throw error;
      received = there;
    }
  }
}

/** Send a file of a question; returns the hash that the office's disk gave back. */
export async function sendFileOf(
  file: { kind: string; bytes: number },
  piece: Piece,
  ask: (query: string, sent: Sent) => Promise<Schemas['FileReceipt']>,
): Promise<string> {
  const receipt = await sendInPieces(
    file.bytes,
    piece,
    (sent) => ask(sent.method === 'PUT' ? `?kind=${file.kind}` : '', sent),
    ({ hash }) => hash != null,
  );
  return receipt.hash ?? '';
}
