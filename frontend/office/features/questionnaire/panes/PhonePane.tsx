// The real engine running the questionnaire as it stands, in the page.
import { useQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { api, ask } from '../../../../shared/api/client';
import { theEngine } from '../../../../shared/engine/client';
import type { Json, SavedInterview, Screen } from '../../../../shared/engine/types';
import { directionOf, languageName } from '../../../../shared/interview/languages';
import { MediaContext, lookUpIn, type ReleaseMedia } from '../../../../shared/interview/media';
import { Question } from '../../../../shared/interview/Question';
import { learnWords, textsIn } from '../../../../shared/interview/texts';
import { Why } from './Why';
import type { Part } from '../script/model';
import { t } from '../../../texts/texts';
import { Words } from '../../../texts/Words';

interface Props {
  questionnaireId: number;
  studyId: number;
  /** Of the script as it is kept; null while it has errors: then the last one that ran stays. */
  releaseHash: string | null;
  languages: string[];
  /** The language that the pane begins in. */
  begins: string;
  part: Part | undefined;
  /** When the line is asked, by its own rule or that of what holds it. */
  condition: string;
  stale: boolean;
  onGo: (variable: string) => void;
}

const SESSION = 'preview';

export function PhonePane({
  questionnaireId,
  studyId,
  releaseHash,
  languages,
  begins,
  part,
  condition,
  stale,
  onGo,
}: Props) {
  const [wish, setLanguage] = useState(begins);
  const language = languages.includes(wish) ? wish : begins;
  const [screen, setScreen] = useState<Screen | null>(null);
  const [way, setWay] = useState<string[]>([]);
  const [problem, setProblem] = useState('');
  const [tried, setTried] = useState(false);
  const [answers, setAnswers] = useState<SavedInterview['answers']>({});
  const saved = useRef<SavedInterview>({ answers: {}, kept: {}, language });
  const at = useRef<string | null>(null);
  const phone = textsIn(language);
  const compiled = useQuery({
    queryKey: ['compiled', questionnaireId, releaseHash],
    queryFn: () =>
      ask(
        api.GET('/api/questionnaires/{questionnaire_id}/compiled', {
          params: { path: { questionnaire_id: questionnaireId } },
        }),
      ),
    enabled: releaseHash !== null,
    staleTime: Infinity,
    placeholderData: (before) => before,
  });
  const release = compiled.data?.release ?? null;

  const lookUp = useMemo(() => {
    const media = (release as { media?: ReleaseMedia } | null)?.media ?? {};
    return lookUpIn(media, language, languages[0] ?? 'en', (hash) => `/api/studies/${String(studyId)}/media/${hash}`);
  }, [release, language, languages, studyId]);

  const show = useCallback(async (path: string) => {
    at.current = path;
    setTried(false);
    setScreen(await theEngine().call('show', SESSION, path));
  }, []);

  useEffect(() => {
    if (!release) return;
    let live = true;
    const open = async () => {
      const engine = theEngine();
      learnWords((release as { words?: Record<string, Record<string, string>> }).words ?? {});
      await engine.call('loadRelease', 'draft', JSON.stringify(release));
      const paths = await engine.call(
        'open',
        SESSION,
        'draft',
        { ...saved.current, language },
        { now: new Date().toISOString(), 'enumerator.name': '' },
      );
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
  }, [release, language, show]);

  const variable = part?.variable ?? '';
  const own = way.find((path) => path === variable || path.endsWith(`/${variable}`));
  useEffect(() => {
    const elsewhere = at.current === null || !(at.current === variable || at.current.endsWith(`/${variable}`));
    if (own !== undefined && elsewhere) void show(own);
    // Follows the active line, not the preview's own steps.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [variable, own]);

  const act = async (work: () => Promise<Screen>) => {
    setScreen(await work());
    saved.current = await theEngine().call('saved', SESSION);
    setAnswers(saved.current.answers);
    setWay(await theEngine().call('way', SESSION));
  };
  const go = (path: string | null) => {
    if (path === null) return;
    void show(path);
    onGo(path.split('/').at(-1) ?? '');
  };
  const next = () => {
    if (!screen) return;
    if (screen.findings.some((f) => f.strength === 'must' || f.kept === '')) setTried(true);
    else go(screen.next);
  };
  const clear = () => {
    saved.current = { answers: {}, kept: {}, language };
    setAnswers({});
    at.current = null;
    void theEngine()
      .call('open', SESSION, 'draft', saved.current, { now: new Date().toISOString(), 'enumerator.name': '' })
      .then((paths) => {
        setWay(paths);
        if (paths[0] !== undefined) void show(paths[0]);
      });
  };

  return (
    <div className="pane-body phone-pane">
      {languages.length > 1 && (
        <div className="phone-languages" role="radiogroup" aria-label={t('languages.ofPhone')}>
          {languages.map((tag) => (
            <button
              key={tag}
              type="button"
              role="radio"
              aria-checked={tag === language}
              lang={tag}
              onClick={() => {
                setLanguage(tag);
              }}
            >
              {languageName(tag)}
            </button>
          ))}
        </div>
      )}
      <div className="phone" dir={directionOf(language)} lang={language}>
        <div className="phone-progress">
          <i style={{ width: `${String(100 * (screen?.progress ?? 0))}%` }} />
        </div>
        <div className="phone-screen">
          {screen ? (
            <>
              <p className="phone-place">
                {screen.around
                  .map((a) => (a.kind === 'roster' ? phone('person', { row: a.row ?? 0, rows: a.rows ?? 0 }) : a.title))
                  .join(' · ')}
              </p>
              <MediaContext value={lookUp}>
                <Question
                  screen={screen}
                  t={phone}
                  showNeeded={tried}
                  onAnswer={(value: Json) => void act(() => theEngine().call('answer', SESSION, screen.path, value))}
                  findCodes={(typed) => theEngine().call('findCodes', SESSION, screen.path, typed)}
                  onKeep={(check, reason) =>
                    void act(() => theEngine().call('keep', SESSION, screen.path, check, reason))
                  }
                />
              </MediaContext>
            </>
          ) : (
            <p className="muted" role="status">
              {problem !== '' ? problem : release ? phone('gettingReady') : t('questionnaire.runsSoonScriptHas')}
            </p>
          )}
        </div>
        <div className="phone-foot">
          <button
            type="button"
            disabled={!screen?.previous}
            aria-label={phone('back')}
            onClick={() => {
              go(screen?.previous ?? null);
            }}
          >
            ‹
          </button>
          <button type="button" title={t('questionnaire.startPreviewAgainNothing')} onClick={clear}>
            ↺
          </button>
          <button type="button" className="next" disabled={!screen} onClick={next}>
            {phone('next')} ›
          </button>
        </div>
      </div>
      <p className="small muted">
        {stale && release && `${t('questionnaire.shownWasBeforeErrors')} `}
        {part !== undefined && screen !== null && variable !== '' && condition !== '' && (
          <>
            <Words
              k={own === undefined ? 'questionnaire.notAskedSoFar' : 'questionnaire.askedBecause'}
              values={{ condition }}
              parts={{ code: <code /> }}
            />
          </>
        )}
      </p>
      {part !== undefined && screen !== null && condition !== '' && (
        <Why questionnaireId={questionnaireId} partId={part.id} text={condition} answers={answers} />
      )}
    </div>
  );
}
