// The phone's side of the HTTP interface: pairing, what to hold, handing in.
import { Problem, problemOf, unreachable, type Schemas } from '../../shared/api/client';

async function call<T>(method: string, path: string, body: string | Blob | null, token: string): Promise<T> {
  const headers: Record<string, string> = { 'Content-Type': body instanceof Blob ? 'application/octet-stream' : 'application/json' };
  if (token !== '') headers.Authorization = `Bearer ${token}`;
  const response = await fetch(`/api/field${path}`, { method, body, headers, cache: 'no-store' }).catch(() => {
    throw unreachable();
  });
  if (!response.ok) throw await problemOf(response);
  return (await response.json()) as T;
}

export interface ReleaseFile {
  number: number;
  questionnaire_id: number;
  compiled: { title: Record<string, string>; languages: string[] };
}

export const pair = (code: string, device: string) =>
  call<Schemas['Paired']>('POST', '/pair', JSON.stringify({ code, device }), '');

export const profile = (token: string, carries: Schemas['Carries']) =>
  call<Schemas['Profile']>('POST', '/profile', JSON.stringify(carries), token);

export const fetchRelease = (token: string, hash: string) => call<ReleaseFile>('GET', `/releases/${hash}`, null, token);

export const handIn = (token: string, uuid: string, raw: string) =>
  call<Schemas['ReceiptOut']>('PUT', `/interviews/${uuid}`, raw, token);

export const handInFile = (token: string, hash: string, content: Blob) =>
  call<Schemas['FileReceipt']>('PUT', `/files/${hash}`, content, token);

export const isUnreachable = (error: unknown): boolean => error instanceof Problem && error.code === 'unreachable';
