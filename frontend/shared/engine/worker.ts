// Runs skavo.core in Pyodide. It starts from the snapshot of memory made at build time, and where that fails from the
// engine's modules, the ordinary and slower way.
import type { PyodideInterface } from 'pyodide';
import { ENGINE_FOLDER } from './generated';
import type { Outside, Reply, Request, SavedInterview } from './types';

interface Session {
  way(): string;
  show(path: string): string;
  grid(path: string): string;
  page(path: string): string;
  find_codes(path: string, typed: string): string;
  answer(path: string, value: string): string;
  remove_row(path: string): string;
  keep(path: string, check: number, reason: string): string;
  speak(language: string): void;
  overview(withDerived: boolean): string;
  findings(): string;
  saved(): string;
  unsaved(): string;
  remaining(path: string): number;
  packed(): string;
  exercise(exercise: string): string;
  destroy(): void;
}

interface DayModule {
  day_of_visits(day: string): string;
}

interface SessionModule {
  load_release(key: string, compiled: string): void;
  Session(release: string, interview: string, outside: string): Session;
}

/** The part of Pyodide's file system that is used; its own types do not say. */
interface FileSystem {
  mkdirTree(path: string): void;
  writeFile(path: string, text: string): void;
}

interface PyodideModule {
  loadPyodide(options: Record<string, unknown>): Promise<PyodideInterface>;
}

let engine: Promise<{ python: SessionModule; visits: DayModule; fromSnapshot: boolean }> | null = null;
const sessions = new Map<string, Session>();

async function fetched(name: string): Promise<Response> {
  const response = await fetch(ENGINE_FOLDER + name);
  if (!response.ok || !response.body) throw new Error(`${name} is missing`);
  return response;
}

async function startFromSnapshot(pyodide: PyodideModule): Promise<PyodideInterface> {
  const packed = await fetched('snapshot.packed');
  const unpacked = packed.body?.pipeThrough(new DecompressionStream('gzip'));
  const snapshot = new Uint8Array(await new Response(unpacked).arrayBuffer());
  return pyodide.loadPyodide({ indexURL: ENGINE_FOLDER, _loadSnapshot: snapshot });
}

async function startFromModules(pyodide: PyodideModule): Promise<PyodideInterface> {
  const python = await pyodide.loadPyodide({ indexURL: ENGINE_FOLDER });
  const modules = (await (await fetched('modules.json')).json()) as Record<string, string>;
  for (const [path, text] of Object.entries(modules)) {
    const files = python.FS as FileSystem;
    files.mkdirTree(`/engine/${path.slice(0, path.lastIndexOf('/'))}`);
    files.writeFile(`/engine/${path}`, text);
  }
  python.runPython('import sys; sys.path.insert(0, "/engine")');
  return python;
}

async function startEngine() {
  const pyodide = (await import(/* @vite-ignore */ `${ENGINE_FOLDER}pyodide.mjs`)) as PyodideModule;
  let fromSnapshot = true;
  const python = await startFromSnapshot(pyodide).catch((error: unknown) => {
    console.warn('The engine starts the ordinary way.', error);
    fromSnapshot = false;
    return startFromModules(pyodide);
  });
  return {
    python: python.pyimport('skavo.core.interview.session') as SessionModule,
    visits: python.pyimport('skavo.core.visits.day') as DayModule,
    fromSnapshot,
  };
}

/** A start that failed is not the last one: what was missing may be there the next time. */
function started() {
  engine ??= startEngine().catch((error: unknown) => {
    engine = null;
    throw error;
  });
  return engine;
}

function session(name: string): Session {
  const found = sessions.get(name);
  if (!found) throw new Error('This interview is not open.');
  return found;
}

const read = (text: string): unknown => JSON.parse(text) as unknown;

async function run({ call, args }: Request): Promise<unknown> {
  const { python, visits, fromSnapshot } = await started();
  const name = args[0] as string;
  switch (call) {
    case 'start':
      return { fromSnapshot };
    case 'loadRelease':
      python.load_release(name, args[1] as string);
      return null;
    case 'open': {
      const [, release, interview, outside] = args as [string, string, SavedInterview, Outside];
      sessions.get(name)?.destroy();
      sessions.set(name, python.Session(release, JSON.stringify(interview), JSON.stringify(outside)));
      return read(session(name).way());
    }
    case 'close':
      sessions.get(name)?.destroy();
      sessions.delete(name);
      return null;
    case 'page':
      return read(session(name).page(args[1] as string));
    case 'grid':
      return read(session(name).grid(args[1] as string));
    case 'findCodes':
      return read(session(name).find_codes(args[1] as string, args[2] as string));
    case 'answer':
      return read(session(name).answer(args[1] as string, JSON.stringify(args[2])));
    case 'keep':
      return read(session(name).keep(args[1] as string, args[2] as number, args[3] as string));
    case 'removeRow':
      return read(session(name).remove_row(args[1] as string));
    case 'speak':
      session(name).speak(args[1] as string);
      return null;
    case 'dayOfVisits':
      return read(visits.day_of_visits(JSON.stringify(args[0])));
    case 'remaining':
      return session(name).remaining(args[1] as string);
    case 'exercise':
      return read(session(name).exercise(JSON.stringify(args[1])));
    case 'show':
      return read(session(name).show(args[1] as string));
    case 'overview':
      return read(session(name).overview(args[1] === true));
    case 'way':
    case 'findings':
    case 'saved':
    case 'unsaved':
    case 'packed':
      return read(session(name)[call]());
  }
}

// One call after the other, in the order they were asked: an answer must not overtake the one before.
let queue: Promise<void> = Promise.resolve();

self.onmessage = (event: MessageEvent<Request>) => {
  const request = event.data;
  queue = queue.then(async () => {
    let reply: Reply;
    try {
      reply = { id: request.id, result: await run(request) };
    } catch (error) {
      reply = { id: request.id, error: error instanceof Error ? error.message : String(error) };
    }
    self.postMessage(reply);
  });
};
