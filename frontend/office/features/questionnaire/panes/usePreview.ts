// The preview's interview: the real engine over the questionnaire as it is kept; its answers outlive changes of the script.
import { useCallback, useEffect, useRef, useState } from 'react';
import { theEngine } from '../../../../shared/engine/client';
import type { Json, Outside, SavedInterview, Screen } from '../../../../shared/engine/types';
import { learnWords } from '../../../../shared/interview/texts';

export const SESSION = 'preview';

/** An interview that the preview begins with, and what has to be known besides its answers. */
export interface Beginning {
  answers: SavedInterview['answers'];
  outside: Outside;
}

const fromNothing = (): Beginning => ({
  answers: {},
  outside: { now: new Date().toISOString(), 'enumerator.name': '' },
});

/** `begins` is an interview to open instead of an empty one; another one takes the place of what was answered. */
export function usePreview(release: object | null, language: string, begins: Beginning | null) {
  const [screen, setScreen] = useState<Screen | null>(null);
  const [grid, setGrid] = useState<Screen[]>([]);
  const [way, setWay] = useState<string[]>([]);
  const [answers, setAnswers] = useState<SavedInterview['answers']>({});
  const [problem, setProblem] = useState('');
  const saved = useRef<SavedInterview>({ answers: {}, kept: {}, language });
  const outside = useRef<Outside>(fromNothing().outside);
  const at = useRef<string | null>(null);
  const begun = useRef<Beginning | null>(null);

  const show = useCallback(async (path: string) => {
    at.current = path;
    const shown = await theEngine().call('show', SESSION, path);
    setGrid(await linesOf(shown));
    setScreen(shown);
  }, []);

  const begin = useCallback(
    async (from: Beginning | null) => {
      const { answers: given, outside: known } = from ?? fromNothing();
      saved.current = { answers: given, kept: {}, language };
      outside.current = known;
      at.current = null;
      setAnswers(given);
      const paths = await theEngine().call('open', SESSION, 'draft', saved.current, known);
      setWay(paths);
      if (paths[0] !== undefined) await show(paths[0]);
    },
    [language, show],
  );

  useEffect(() => {
    if (!release) return;
    let live = true;
    const open = async () => {
      const engine = theEngine();
      learnWords((release as { words?: Record<string, Record<string, string>> }).words ?? {});
      await engine.call('loadRelease', 'draft', JSON.stringify(release));
      if (begins !== null && begins !== begun.current) {
        saved.current = { answers: begins.answers, kept: {}, language };
        outside.current = begins.outside;
        at.current = null;
        setAnswers(begins.answers);
      }
      begun.current = begins;
      const paths = await engine.call('open', SESSION, 'draft', { ...saved.current, language }, outside.current);
      if (!live) return;
      setWay(paths);
      const path = at.current !== null && paths.includes(at.current) ? at.current : paths[0];
      if (path !== undefined) await show(path);
      else setScreen(null);
      setProblem('');
    };
    open().catch((error: unknown) => {
      if (live) setProblem(error instanceof Error ? error.message : String(error));
    });
    return () => {
      live = false;
    };
  }, [release, language, begins, show]);

  const act = async (work: () => Promise<Screen>) => {
    const shown = await work();
    setGrid(await linesOf(shown));
    setScreen(shown);
    saved.current = await theEngine().call('saved', SESSION);
    setAnswers(saved.current.answers);
    setWay(await theEngine().call('way', SESSION));
  };
  return {
    screen,
    grid,
    way,
    answers,
    problem,
    at,
    outside,
    show,
    startAgain: () => begin(null),
    answer: (path: string, value: Json) => act(() => theEngine().call('answer', SESSION, path, value)),
    keep: (path: string, check: number, reason: string) =>
      act(() => theEngine().call('keep', SESSION, path, check, reason)),
  };
}

/** The lines of the grid that a screen stands in; none where it stands in no grid. */
const linesOf = (screen: Screen): Promise<Screen[]> =>
  screen.around.at(-1)?.kind === 'grid' ? theEngine().call('grid', SESSION, screen.path) : Promise.resolve([]);
