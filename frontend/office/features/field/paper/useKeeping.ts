// Keeping what is keyed at the office while typing goes on: a little after each answer, at once at the end.
import { useCallback, useEffect, useRef, useState } from 'react';
import { api, ask } from '../../../../shared/api/client';
import type { Json, Unsaved } from '../../../../shared/engine/types';
import { messageOf } from '../../../ui/states';
import type { Paper } from './paper';

const EVERY_MS = 1_200;
const AGAIN_AFTER_MS = 5_000;
// Whoever types nothing for so long is not at work.
const PAUSE_SECONDS = 60;

export function useKeeping(paper: Paper) {
  const answers = useRef<Record<string, Json>>({ ...paper.content.answers });
  const at = useRef(paper.content.path);
  const worked = useRef({ seconds: 0, since: 0 });
  const unsent = useRef(false);
  const notBefore = useRef(0);
  const [trouble, setTrouble] = useState('');

  const send = useCallback(
    async (ended: boolean) => {
      const seconds = Math.round(worked.current.seconds);
      unsent.current = false;
      try {
        const result = await ask(
          api.PUT('/api/paper-forms/{form_id}/keying', {
            params: { path: { form_id: paper.form_id } },
            body: {
              turn: paper.turn,
              content: { answers: { ...answers.current }, path: at.current },
              seconds,
              ended,
            },
          }),
        );
        worked.current.seconds -= seconds;
        setTrouble('');
        return result;
      } catch (error) {
        unsent.current = true;
        notBefore.current = Date.now() + AGAIN_AFTER_MS;
        throw error;
      }
    },
    [paper],
  );

  useEffect(() => {
    worked.current.since = Date.now();
    const timer = window.setInterval(() => {
      if (!unsent.current || Date.now() < notBefore.current) return;
      send(false).catch((error: unknown) => {
        setTrouble(messageOf(error));
      });
    }, EVERY_MS);
    const warn = (event: BeforeUnloadEvent) => {
      if (unsent.current) event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => {
      window.clearInterval(timer);
      window.removeEventListener('beforeunload', warn);
      // Nothing that was keyed is lost by leaving the page a moment too early.
      if (unsent.current) void send(false).catch(() => undefined);
    };
  }, [send]);

  /** Note what changed; it is sent in a moment. */
  const keep = useCallback((changes: Unsaved, path: string): Promise<void> => {
    for (const [answered, value] of Object.entries(changes.answers)) {
      if (value === null) Reflect.deleteProperty(answers.current, answered);
      else answers.current[answered] = value;
    }
    at.current = path;
    const now = Date.now();
    worked.current.seconds += Math.min((now - worked.current.since) / 1000, PAUSE_SECONDS);
    worked.current.since = now;
    unsent.current = true;
    return Promise.resolve();
  }, []);

  return { keep, end: () => send(true), trouble };
}
