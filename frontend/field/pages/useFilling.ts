// Filling one interview: one step after the other in the engine and on the disk. A step that fails says so and stops no
// other: the engine has every answer, and the next step keeps all of them.
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { theEngine } from '../../shared/engine/client';
import type { Json, Screen } from '../../shared/engine/types';
import { holdInterview } from '../../shared/interview/alone';
import { db, type Interview, type ParadataEvent, type ReleaseRow } from '../store/db';
import { readInterview } from '../store/kept';
import { keepInterview, momentHere, openInterview, type Changes } from '../store/interviews';
import { notedBy } from '../store/noted';
import { TROUBLES, troubleOf } from '../store/troubles';
import type { FieldText } from '../texts/texts';

export type Opened =
  | { state: 'opening'; row?: Interview }
  | { state: 'failed'; row?: Interview; retry: () => void }
  | { state: 'missing' }
  | { state: 'elsewhere'; retry: () => void }
  | { state: 'open'; row: Interview; release: ReleaseRow; first: Screen };

const RETRY_MS = 5_000;

/** Open an interview for this page alone. */
export function useOpened(uuid: string): Opened {
  const [attempt, setAttempt] = useState(0);
  const [opened, setOpened] = useState<Opened>({ state: 'opening' });
  useEffect(() => {
    let live = true;
    let letGo: (() => void) | null = null;
    const retry = () => {
      setOpened({ state: 'opening' });
      setAttempt((n) => n + 1);
    };
    const tell = (now: Opened) => {
      if (live) setOpened(now);
    };
    const open = async () => {
      const row = await readInterview(uuid);
      const release = row ? await db.releases.get(row.release) : undefined;
      if (!row || !release || row.state !== 'in hand') {
        tell({ state: 'missing' });
        return;
      }
      tell({ state: 'opening', row });
      letGo = await holdInterview(uuid);
      if (letGo === null) {
        tell({ state: 'elsewhere', retry });
        return;
      }
      if (!live) {
        letGo();
        return;
      }
      const first = await firstScreen(row, release);
      const opening: ParadataEvent = {
        kind: row.events.length === 0 ? 'seen' : 'resumed',
        path: first.path,
        at: momentHere(),
      };
      await keepInterview(uuid, first, notedBy(release).timing ? [opening] : [], {
        answers: {},
        kept: row.kept,
        language: row.language,
      }).catch(() => undefined);
      tell({ state: 'open', row, release, first });
    };
    open().catch((error: unknown) => {
      console.error(error);
      tell({ state: 'failed', retry });
    });
    return () => {
      live = false;
      letGo?.();
    };
  }, [uuid, attempt]);
  return opened;
}

async function firstScreen(row: Interview, release: ReleaseRow): Promise<Screen> {
  const way = await openInterview(row, release);
  const path = row.path !== null && way.includes(row.path) ? row.path : (way[0] ?? '');
  return theEngine().call('show', row.uuid, path);
}

/** What a step does in the engine; null where the screen stays. */
type Work<T = Screen | null> = () => Promise<T>;

export function useFilling(row: Interview, release: ReleaseRow, first: Screen) {
  const { uuid } = row;
  const [screen, setScreen] = useState(first);
  const timing = useMemo(() => notedBy(release).timing, [release]);
  const [trouble, setTrouble] = useState<FieldText | ''>('');
  const pending = useRef<Promise<void>>(Promise.resolve());
  const at = useRef(first.path);
  /** Events and place of steps that could not be kept: they go with the next one that can. */
  const unkept = useRef<ParadataEvent[]>([]);
  const stopped = useRef<Screen | null>(null);
  const changed = useRef<Changes | null>(null);

  const keep = useCallback(
    async (shown: Screen | null) => {
      const events = unkept.current;
      unkept.current = [];
      stopped.current = shown ?? stopped.current;
      try {
        const fresh = await theEngine().call('unsaved', uuid);
        changed.current = { ...fresh, answers: { ...changed.current?.answers, ...fresh.answers } };
        await keepInterview(uuid, stopped.current, events, changed.current);
        stopped.current = null;
        changed.current = null;
        setTrouble('');
      } catch (error) {
        unkept.current = [...events, ...unkept.current];
        setTrouble(TROUBLES[troubleOf(error)]);
      }
    },
    [uuid],
  );

  /** Do something in the engine; where its worker has gone, the interview is opened again from what was kept. */
  const done = useCallback(
    async <T>(work: Work<T>): Promise<T> => {
      try {
        return await work();
      } catch (error) {
        const gone = error instanceof Error && /not open|engine could not start|broke off/.test(error.message);
        if (!gone) throw error;
        const kept = (await readInterview(uuid)) ?? row;
        await firstScreen({ ...kept, answers: { ...kept.answers, ...changed.current?.answers } }, release);
        return work();
      }
    },
    [release, row, uuid],
  );

  const step = useCallback(
    (work: Work, event: ParadataEvent | null): Promise<void> => {
      pending.current = pending.current.then(async () => {
        try {
          const shown = await done(work);
          if (event && timing)
            unkept.current.push(shown && event.kind === 'seen' ? { ...event, path: shown.path } : event);
          if (shown) {
            at.current = shown.path;
            setScreen(shown);
          }
          await keep(shown);
        } catch (error) {
          console.error(error);
          setTrouble('stepFailed');
        }
      });
      return pending.current;
    },
    [done, keep, timing],
  );

  // What could not be kept is tried again by itself, as when space was freed meanwhile.
  useEffect(() => {
    if (trouble === '') return;
    const timer = window.setInterval(() => {
      if (unkept.current.length > 0 || changed.current !== null)
        pending.current = pending.current.then(() => keep(null));
    }, RETRY_MS);
    return () => {
      window.clearInterval(timer);
    };
  }, [keep, trouble]);

  const answer = useCallback(
    (path: string, value: Json) =>
      step(
        async () => {
          const shown = await theEngine().call('answer', uuid, path, value);
          // A picture may be ready only after the interview has gone on: it is kept, and the screen stays.
          return at.current === path ? shown : null;
        },
        { kind: 'answered', path, at: momentHere() },
      ),
    [step, uuid],
  );

  /** Answer one of several questions on a page: it is where the interview stands from then on. */
  const answerAt = useCallback(
    (path: string, value: Json) => {
      at.current = path;
      return answer(path, value);
    },
    [answer],
  );

  const findCodes = useCallback(
    (typed: string, path: string) => done(() => theEngine().call('findCodes', uuid, path, typed)),
    [done, uuid],
  );

  /** The screen as it is now, once all steps before are done. */
  const settled = useCallback(async (): Promise<Screen> => {
    await pending.current;
    const now = await theEngine().call('show', uuid, at.current);
    setScreen(now);
    return now;
  }, [uuid]);

  return { screen, trouble, step, answer, answerAt, findCodes, settled };
}
