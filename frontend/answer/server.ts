// What the page of a link asks the server for.
import { api, ask, Problem, problemOf, unreachable, type Schemas } from '../shared/api/client';
import { sendFileOf, type Sent } from '../shared/api/pieces';
import type { ReleaseMedia } from '../shared/interview/media';

export type LinkPage = Schemas['LinkPage'];

export interface Compiled {
  title: Record<string, string>;
  languages: string[];
  media?: ReleaseMedia;
  words?: Record<string, Record<string, string>>;
}

export interface ReleaseFile {
  identity: string;
  hash: string;
  compiled: Compiled;
}

const PIECE = 1 << 20;

export const lookAt = (secret: string): Promise<LinkPage> =>
  ask(api.GET('/api/answer/{secret}', { params: { path: { secret } } }));

/** Its shape is the engine's: the description of the interface does not tell it. */
export const fetchRelease = (secret: string, identity: string): Promise<ReleaseFile> =>
  ask(
    api.GET('/api/answer/{secret}/releases/{identity}', { params: { path: { secret, identity } } }) as Promise<{
      data?: ReleaseFile;
    }>,
  );

export async function begin(secret: string, uuid: string): Promise<void> {
  await ask(api.POST('/api/answer/{secret}/interviews', { params: { path: { secret } }, body: { uuid } }));
}

async function call<T>(address: string, { method, body, headers }: Sent): Promise<T> {
  const response = await fetch(address, { method, body, headers, cache: 'no-store' }).catch(() => {
    throw unreachable();
  });
  if (!response.ok) throw await problemOf(response);
  return (await response.json()) as T;
}

const interviewAt = (secret: string, uuid: string) => `/api/answer/${encodeURIComponent(secret)}/interviews/${uuid}`;

/** Send a file; the office's disk has to give back what was sent. */
export async function sendFile(
  secret: string,
  file: { uuid: string; hash: string; kind: string; content: Blob },
): Promise<void> {
  const confirmed = await sendFileOf(
    { kind: file.kind, bytes: file.content.size },
    async (from) => new Uint8Array(await file.content.slice(from, from + PIECE).arrayBuffer()),
    (query, sent) => call(`${interviewAt(secret, file.uuid)}/files/${file.hash}${query}`, sent),
  );
  if (confirmed !== file.hash) throw new Problem('wrong_receipt', '', 0);
}

export const sendAnswers = (secret: string, uuid: string, raw: string): Promise<Schemas['ReceiptOut']> =>
  call(interviewAt(secret, uuid), {
    method: 'PUT',
    body: raw,
    headers: { 'Content-Type': 'application/json' },
  });

export const mediaAt = (secret: string, hash: string): string =>
  `/api/answer/${encodeURIComponent(secret)}/media/${hash}`;
