// The phone's side of the HTTP interface: pairing, what to hold, what was sent back, handing in.
import type { ReleaseMedia } from '../../shared/interview/media';
import { Problem, problemOf, unreachable, type Schemas } from '../../shared/api/client';
import type { Exercise } from '../../shared/engine/types';
import { sendFileOf, sendInPieces, type Piece, type Sent } from '../../shared/api/pieces';

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

/** Bytes of a map sheet, up to but without `to`. */
export const fetchSheet = async (token: string, hash: string, from: number, to: number) =>
  (
    await respond(
      `/map-sheets/${hash}`,
      { method: 'GET', headers: { Range: `bytes=${String(from)}-${String(to - 1)}` } },
      token,
    )
  ).arrayBuffer();

export const fetchRelease = (token: string, identity: string) =>
  call<ReleaseFile>(`/releases/${identity}`, { method: 'GET' }, token);

/** Test interviews to practise a release with. */
export const fetchExercises = (token: string, identity: string) =>
  call<Exercise[]>(`/releases/${identity}/exercises`, { method: 'GET' }, token);

/** The document of an interview that was sent back, word for word. */
export const fetchInterview = async (token: string, uuid: string) =>
  (await respond(`/interviews/${uuid}`, { method: 'GET' }, token)).text();

export const handIn = (token: string, uuid: string, raw: string) =>
  call<Schemas['ReceiptOut']>(`/interviews/${uuid}`, { method: 'PUT', body: raw }, token);

/** Send a file of an interview piece by piece; returns the hash that the office's disk gave back. */
export const handInFile = (
  token: string,
  file: { interview: string; hash: string; kind: string; bytes: number },
  piece: Piece,
): Promise<string> =>
  sendFileOf(file, piece, (query, sent) =>
    call(`/interviews/${file.interview}/files/${file.hash}${query}`, sent, token),
  );

/** All visits of this person. */
export const fetchVisits = (token: string) => call<Schemas['CarriedVisits']>('/visits', { method: 'GET' }, token);

/** What this phone lacks of the units that it is to hold; `pieces` are those that it holds, by their marks. */
export const fetchUnits = (token: string, pieces: Record<string, string>) =>
  call<Schemas['CarriedUnits']>('/units', { method: 'POST', body: JSON.stringify({ pieces }) }, token);

/** Tell an attempt at a visit. */
export const tellAttempt = (token: string, identity: string, attempt: Schemas['AttemptTold']) =>
  call<Schemas['AttemptReceipt']>(`/attempts/${identity}`, { method: 'PUT', body: JSON.stringify(attempt) }, token);

/** What this person has handed in, a page at a time, the newest first. */
export const receipts = (token: string, before: number | null) =>
  call<Schemas['ReceiptLine'][]>(
    `/receipts${before === null ? '' : `?before=${String(before)}`}`,
    { method: 'GET' },
    token,
  );

/** Leave an interview in hand at the office; returns the hash of what is kept there. */
export const leaveInterview = async (token: string, uuid: string, label: string, content: string) =>
  (
    await call<Schemas['LeftReceipt']>(
      `/left/${uuid}?label=${encodeURIComponent(label)}`,
      { method: 'PUT', body: content },
      token,
    )
  ).hash;

/** What was left of an interview, word for word; it is this phone's from now on. */
export const takeLeft = async (token: string, uuid: string) =>
  (await respond(`/left/${uuid}/taking`, { method: 'POST', body: '{}' }, token)).text();

/** Send a colleague's file from where it broke off; returns what became of it. */
export const carryIn = (token: string, name: string, bytes: number, piece: Piece) =>
  sendInPieces(
    bytes,
    piece,
    (sent) => call<Schemas['BundleArrivingOut']>(`/carried/${name}`, sent, token),
    ({ told }) => told != null,
  ).then(({ told }) => told);

/** Tell that everything was forgotten, as it was ordered. */
export const wiped = (token: string) => respond('/wiped', { method: 'POST', body: '{}' }, token);

/** Ask to be let in where the PIN was forgotten, or whether that has happened. */
export const askToBeLetIn = (wanted: Schemas['RescueIn']) =>
  call<Schemas['RescueOut']>('/rescue', { method: 'POST', body: JSON.stringify(wanted) }, '');

export const isUnreachable = (error: unknown): boolean => error instanceof Problem && error.code === 'unreachable';
