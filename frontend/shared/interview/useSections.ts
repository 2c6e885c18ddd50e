// Filling an interview a section at a time: one step after the other in the engine, each kept before the next one. What
// could not be kept goes with the next step that can.
import { useCallback, useRef, useState } from 'react';
import { theEngine } from '../engine/client';
import type { CodesFound, Json, OverviewLine, Screen, Unsaved } from '../engine/types';

/** What is shown: the questions of a section, and every line of the interview with its state where that is asked for. */
export interface Shown {
  page: Screen[];
  lines: OverviewLine[];
}

/** The section that a path stands in, as the engine has it now; all lines of a long interview take their time. */
export async function showSection(session: string, path: string, withLines: boolean): Promise<Shown> {
  const page = await theEngine().call('page', session, path);
  return { page, lines: withLines ? await theEngine().call('overview', session) : [] };
}

const isToMend = (one: Screen): boolean => one.findings.some((f) => f.strength === 'must' || f.kept === '');

/**
 * `session` is open in the engine and `first` its section shown first. `keep` writes down what has changed since it was
 * last able to, and where the interview stands. `isLax` goes on whatever is still to mend; `withLines` shows all lines.
 */
export function useSections(
  session: string,
  first: Shown,
  keep: (changes: Unsaved, path: string) => Promise<void>,
  { isLax, withLines }: { isLax: boolean; withLines: boolean },
) {
  const [shown, setShown] = useState(first);
  const [trouble, setTrouble] = useState<Error | null>(null);
  const pending = useRef<Promise<void>>(Promise.resolve());
  const unkept = useRef<Unsaved | null>(null);
  const at = useRef(first.page[0]?.path ?? '');

  /** Do something in the engine; it says which path is shown then. */
  const step = useCallback(
    (work: () => Promise<string>): Promise<void> => {
      pending.current = pending.current.then(async () => {
        try {
          at.current = await work();
          setShown(await showSection(session, at.current, withLines));
          const fresh = await theEngine().call('unsaved', session);
          unkept.current = { ...fresh, answers: { ...unkept.current?.answers, ...fresh.answers } };
          await keep(unkept.current, at.current);
          unkept.current = null;
          setTrouble(null);
        } catch (error) {
          console.error(error);
          setTrouble(error instanceof Error ? error : new Error(String(error)));
        }
      });
      return pending.current;
    },
    [keep, session, withLines],
  );

  const go = useCallback((path: string) => step(() => Promise.resolve(path)), [step]);

  const answer = useCallback(
    (path: string, value: Json) =>
      step(async () => {
        await theEngine().call('answer', session, path, value);
        return path;
      }),
    [session, step],
  );

  const keepFinding = useCallback(
    (path: string, check: number, reason: string) =>
      step(async () => {
        await theEngine().call('keep', session, path, check, reason);
        return path;
      }),
    [session, step],
  );

  const speak = useCallback(
    (language: string) =>
      step(async () => {
        await theEngine().call('speak', session, language);
        return at.current;
      }),
    [session, step],
  );

  /** The row goes, its answers are kept aside, and what stands in its place is shown. */
  const removeRow = useCallback(
    (gone: string, before: string | null) =>
      step(async () => {
        const way = await theEngine().call('removeRow', session, gone);
        return before !== null && way.includes(before) ? before : (way[0] ?? '');
      }),
    [session, step],
  );

  /** What stands behind this section: its path, null where nothing does; or that something here is to mend first. */
  const onward = useCallback(async (): Promise<'stopped' | { path: string | null }> => {
    await pending.current;
    const page = await theEngine().call('page', session, at.current);
    return !isLax && page.some(isToMend) ? 'stopped' : { path: page.at(-1)?.next ?? null };
  }, [isLax, session]);

  const previous = shown.page[0]?.previous ?? null;
  const back = useCallback(async () => {
    if (previous !== null) await go(previous);
  }, [go, previous]);

  const findCodes = useCallback(
    (typed: string, path: string): Promise<CodesFound> => theEngine().call('findCodes', session, path, typed),
    [session],
  );

  /** Resolves once every step so far is done and kept. */
  const settled = useCallback(async () => {
    await pending.current;
  }, []);

  return { ...shown, trouble, go, answer, keepFinding, speak, removeRow, onward, back, previous, findCodes, settled };
}
