// The engine, seen from a page: typed calls to the worker.
import type { CallName, Calls, Reply, Request } from './types';

export class EngineError extends Error {}

export class EngineClient {
  private worker: Worker | null = null;
  private readonly waiting = new Map<number, { resolve: (value: unknown) => void; reject: (error: Error) => void }>();
  private next = 1;

  /** Ask the engine; a worker that is gone is started again, without the interviews that were open in it. */
  call<N extends CallName>(call: N, ...args: Calls[N]['args']): Promise<Calls[N]['result']> {
    const request: Request = { id: this.next++, call, args };
    return new Promise((resolve, reject) => {
      this.waiting.set(request.id, { resolve: resolve as (value: unknown) => void, reject });
      this.worker ??= this.started();
      this.worker.postMessage(request);
    });
  }

  /** End the worker; the next call starts another one. */
  end(reason = 'The engine was ended.'): void {
    this.worker?.terminate();
    this.worker = null;
    const callers = [...this.waiting.values()];
    this.waiting.clear();
    for (const caller of callers) caller.reject(new EngineError(reason));
  }

  private started(): Worker {
    const worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module', name: 'engine' });
    worker.onmessage = (event: MessageEvent<Reply>) => {
      const reply = event.data;
      const caller = this.waiting.get(reply.id);
      this.waiting.delete(reply.id);
      if ('error' in reply) caller?.reject(new EngineError(reply.error));
      else caller?.resolve(reply.result);
    };
    worker.onerror = () => {
      this.end('The engine could not start, or broke off.');
    };
    return worker;
  }
}

let shared: EngineClient | null = null;

/** The page's one engine; it starts when first asked for. */
export function theEngine(): EngineClient {
  shared ??= new EngineClient();
  return shared;
}
