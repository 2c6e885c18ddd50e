// The phone's side of the HTTP interface: pairing, what to hold, what was sent back, handing in.
import type { ReleaseMedia } from '../../shared/interview/media';
import { Problem, problemOf, unreachable, type Schemas } from '../../shared/api/client';

interface Sent {
  method: 'GET' | 'POST' | 'PUT';
  body?: string | Blob;
  headers?: Record<string, string>;
}

async function respond(path: string, { method, body, headers = {} }: Sent, token: string): Promise<Response> {
  const all: Record<string, string> = {
    'Content-Type': body instanceof Blob ? 'application/octet-stream' : 'application/json',
    ...headers,
  };
  if (token !== '') all.Authorization = `Bearer ${token}`;
  const response = await fetch(`/api/field${path}`, { method, body, headers: all, cache: 'no-store' }).catch(() => {
    throw unreachable();
  });
  if (!response.ok) throw await problemOf(response);
  return response;
}

async function call<T>(path: string, sent: Sent, token: string): Promise<T> {
  return (await (await respond(path, sent, token)).json()) as T;
}

export interface ReleaseFile {
  number: number;
  questionnaire_id: number;
  identity: string;
  hash: string;
  compiled: { format: string; title: Record<string, string>; languages: string[]; media?: ReleaseMedia };
}

export const pair = (code: string, device: string) =>
  call<Schemas['Paired']>('/pair', { method: 'POST', body: JSON.stringify({ code, device }) }, '');

export const profile = (token: string, carries: Schemas['Carries']) =>
  call<Schemas['Profile']>('/profile', { method: 'POST', body: JSON.stringify(carries) }, token);

/** A picture, a sound or a film of a release. */
export const fetchMedia = async (token: string, hash: string) =>
  (await respond(`/media/${hash}`, { method: 'GET' }, token)).blob();

export const fetchRelease = (token: string, identity: string) =>
  call<ReleaseFile>(`/releases/${identity}`, { method: 'GET' }, token);

/** The document of an interview that was sent back, word for word. */
export const fetchInterview = async (token: string, uuid: string) =>
  (await respond(`/interviews/${uuid}`, { method: 'GET' }, token)).text();

export const handIn = (token: string, uuid: string, raw: string) =>
  call<Schemas['ReceiptOut']>(`/interviews/${uuid}`, { method: 'PUT', body: raw }, token);

const PIECE_BYTES = 1 << 20;

/** Send a file of an interview piece by piece, from where it broke off; returns the hash that the office's disk gave back. */
export async function handInFile(
  token: string,
  uuid: string,
  hash: string,
  kind: string,
  content: Blob,
): Promise<string> {
  const address = `/interviews/${uuid}/files/${hash}`;
  let { received } = await call<Schemas['FileReceipt']>(address, { method: 'GET' }, token);
  for (;;) {
    const piece = content.slice(received, received + PIECE_BYTES);
    const range = `bytes ${String(received)}-${String(received + piece.size - 1)}/${String(content.size)}`;
    const headers: Record<string, string> = content.size === 0 ? {} : { 'Content-Range': range };
    try {
      const receipt = await call<Schemas['FileReceipt']>(
        `${address}?kind=${kind}`,
        { method: 'PUT', body: piece, headers },
        token,
      );
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

export const isUnreachable = (error: unknown): boolean => error instanceof Problem && error.code === 'unreachable';
