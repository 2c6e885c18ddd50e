// The server, typed from its own description, with one kind of error.
import createClient, { type Middleware } from 'openapi-fetch';
import type { components, paths } from './schema';

export type Schemas = components['schemas'];

/** What went wrong, as the server says it (RFC 9457), or that it could not be reached. */
export class Problem extends Error {
  readonly code: string;
  readonly status: number;
  readonly details: Record<string, unknown>;

  constructor(code: string, message: string, status: number, details: Record<string, unknown> = {}) {
    super(message);
    this.code = code;
    this.status = status;
    this.details = details;
  }
}

export const unreachable = () =>
  new Problem('unreachable', 'The server cannot be reached. What you wrote is still here.', 0);

/** The problem that a failed answer carries. */
export async function problemOf(response: Response): Promise<Problem> {
  const body: unknown = await response.json().catch(() => null);
  if (typeof body === 'object' && body !== null && 'code' in body && 'title' in body) {
    const details = 'details' in body && typeof body.details === 'object' && body.details !== null ? body.details : {};
    return new Problem(String(body.code), String(body.title), response.status, details as Record<string, unknown>);
  }
  return new Problem('http', `The server answered with ${String(response.status)}.`, response.status);
}

let csrfToken = '';
export const setCsrfToken = (token: string) => {
  csrfToken = token;
};

// What is dangerous is asked for twice: whoever shows the dialog says whether the passphrase was given.
let askConfirmation: (() => void) | null = null;
let waiting: ((confirmed: boolean) => void)[] = [];

/** Call `ask` whenever the passphrase is needed again; returns how to stop that. */
export function onConfirmation(ask: () => void): () => void {
  askConfirmation = ask;
  return () => {
    askConfirmation = null;
  };
}

export function answerConfirmation(confirmed: boolean): void {
  for (const go of waiting) go(confirmed);
  waiting = [];
}

const copies = new WeakMap<Request, Request>();

const middleware: Middleware = {
  onRequest({ request }) {
    if (request.method !== 'GET') {
      request.headers.set('X-CSRFToken', csrfToken);
      copies.set(request, request.clone());
    }
    return request;
  },
  async onResponse({ request, response }) {
    if (response.ok) return undefined;
    const problem = await problemOf(response);
    const again = copies.get(request);
    if (problem.code !== 'confirm_first' || askConfirmation === null || again === undefined) throw problem;
    askConfirmation();
    if (!(await new Promise<boolean>((resolve) => waiting.push(resolve)))) throw problem;
    const second = await fetch(again);
    if (!second.ok) throw await problemOf(second);
    return second;
  },
  onError({ error }) {
    return error instanceof Problem ? error : unreachable();
  },
};

export const api = createClient<paths>({ baseUrl: '/' });
api.use(middleware);

/** The data of an answer; every failure has been thrown as a Problem before. */
export async function ask<T>(call: Promise<{ data?: T }>): Promise<T> {
  const { data } = await call;
  return data as T;
}

/** Ask for something, or send bytes as they are. */
export async function send<T>(
  address: string,
  { method, body, headers = {} }: { method: string; body?: string | Blob; headers?: Record<string, string> },
): Promise<T> {
  const all = { 'X-CSRFToken': csrfToken, 'Content-Type': 'application/octet-stream', ...headers };
  const response = await fetch(address, { method, body, headers: all }).catch(() => {
    throw unreachable();
  });
  if (!response.ok) throw await problemOf(response);
  return (await response.json()) as T;
}

/** Send a file as the body of a request. */
export const sendFile = <T>(address: string, file: File): Promise<T> =>
  send<T>(address, { method: 'POST', body: file });
