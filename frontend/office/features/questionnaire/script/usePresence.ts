// Who else has this script open, and on which line; and whether it was changed elsewhere.
import { useEffect, useState } from 'react';
import { api, ask, type Schemas } from '../../../../shared/api/client';

export type AtWork = Schemas['AtWork'];

const EVERY_MS = 2_500;
const NOBODY: AtWork[] = [];

/** Told every few seconds while the page is in view; `onVersion` hears the version that is kept on the server. */
export function usePresence(
  questionnaireId: number,
  partId: string | null,
  onVersion: (version: number) => void,
): AtWork[] {
  const [others, setOthers] = useState<AtWork[]>(NOBODY);
  const [tab] = useState(() => crypto.randomUUID());

  useEffect(() => {
    let over = false;
    const tell = async () => {
      if (document.hidden) return;
      try {
        const told = await say(questionnaireId, tab, partId ?? '');
        if (over) return;
        setOthers((before) => (JSON.stringify(before) === JSON.stringify(told.others) ? before : told.others));
        onVersion(told.version);
      } catch {
        // Without the server nobody is seen; that it cannot be reached is told where the script is saved.
        if (!over) setOthers(NOBODY);
      }
    };
    void tell();
    const timer = window.setInterval(() => void tell(), EVERY_MS);
    return () => {
      over = true;
      window.clearInterval(timer);
    };
  }, [questionnaireId, tab, partId, onVersion]);

  useEffect(() => {
    const leave = () => {
      void say(questionnaireId, tab, null).catch(() => undefined);
    };
    window.addEventListener('pagehide', leave);
    return () => {
      window.removeEventListener('pagehide', leave);
      leave();
    };
  }, [questionnaireId, tab]);
  return others;
}

const say = (questionnaireId: number, tab: string, partId: string | null) =>
  ask(
    api.POST('/api/questionnaires/{questionnaire_id}/presence', {
      params: { path: { questionnaire_id: questionnaireId } },
      body: { tab, part_id: partId },
      // Said also by a page that is being closed.
      keepalive: true,
    }),
  );
