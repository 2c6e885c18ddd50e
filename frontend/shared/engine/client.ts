// The engine, seen from a page: typed calls to the worker.
import type { CallName, Calls, Reply, Request } from './types';

export class EngineError extends Error {}

export class EngineClient {
  private readonly worker: Worker;
  private readonly waiting = new Map<number, { resolve: (value: unknown) => void; reject: (error: Error) => void }>();
  private next = 1;

  constructor() {
    this.worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module', name: 'engine' });
    this.worker.onmessage = (event: MessageEvent<Reply>) => {
      const reply = event.data;
      const caller = this.waiting.get(reply.id);
      this.waiting.delete(reply.id);
      if ('error' in reply) caller?.reject(new EngineError(reply.error));
      else caller?.resolve(reply.result);
    };
    this.worker.onerror = () => {
      for (const caller of this.waiting.values()) caller.reject(new EngineError('The engine could not start.'));
      this.waiting.clear();
    };
  }

  call<N extends CallName>(call: N, ...args: Calls[N]['args']): Promise<Calls[N]['result']> {
    const request: Request = { id: this.next++, call, args };
    return new Promise((resolve, reject) => {
      this.waiting.set(request.id, { resolve: resolve as (value: unknown) => void, reject });
      this.worker.postMessage(request);
    });
  }
}

let shared: EngineClient | null = null;

/** The page's one engine; it starts when first asked for. */
export function theEngine(): EngineClient {
  shared ??= new EngineClient();
  return shared;
}
