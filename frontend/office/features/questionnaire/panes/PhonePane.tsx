// The real engine running the questionnaire as it stands, in the page.
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { api, ask } from '../../../../shared/api/client';
import { theEngine } from '../../../../shared/engine/client';
import type { Json } from '../../../../shared/engine/types';
import { directionOf, languageName } from '../../../../shared/interview/languages';
import { Grid, standsInGrid } from '../../../../shared/interview/Grid';
import { InstrumentContext, madeUp } from '../../../../shared/interview/instruments';
import { MediaContext, lookUpIn, type ReleaseMedia } from '../../../../shared/interview/media';
import { PositioningContext, simulated } from '../../../../shared/interview/positioning';
import { Question } from '../../../../shared/interview/Question';
import { textsIn, type InterviewText } from '../../../../shared/interview/texts';
import { SheetsContext } from '../../../../shared/map/sheets';
import { drawable, useMaps } from '../../field/maps/useMaps';
import { Why } from './Why';
import type { Part } from '../script/model';
import { t } from '../../../texts/texts';
import { Words } from '../../../texts/Words';
import { messageOf } from '../../../ui/states';
import { TestBar } from './TestBar';
import { readOpens, useOpened } from './useOpened';
import { SESSION, usePreview } from './usePreview';
import './panes.css';

interface Props {
  questionnaireId: number;
  studyId: number;
  /** Of the script as it is kept; null while it has errors: then the last one that ran stays. */
  releaseHash: string | null;
  languages: string[];
  /** The language that the pane begins in. */
  begins: string;
  part: Part | undefined;
  /** The variables of the line in hand and, where it holds lines, of these. */
  inside: string[];
  /** When the line is asked, by its own rule or that of what holds it. */
  condition: string;
  stale: boolean;
  readOnly: boolean;
  /** What is opened on the phone instead of an empty interview, as the address says it. */
  opens: string | null;
  onOpen: (opens: string | null) => void;
  onGo: (variable: string) => void;
}

/** Nobody walks about at a desk. */
const AT_THE_DESK = { positioning: simulated, metres: 12 };
const NO_INSTRUMENT = { driver: madeUp, isMadeUp: true };

export function PhonePane({
  questionnaireId,
  studyId,
  releaseHash,
  languages,
  begins,
  part,
  inside,
  condition,
  stale,
  readOnly,
  opens,
  onOpen,
  onGo,
}: Props) {
  const [wish, setLanguage] = useState(begins);
  const language = languages.includes(wish) ? wish : begins;
  const [wide, setWide] = useState(false);
  const [tried, setTried] = useState(false);
  const phone = textsIn(language);
  const maps = useMaps(studyId);
  const sheets = useMemo(() => (maps.data ?? []).map(drawable), [maps.data]);
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
  const opened = useOpened(questionnaireId, opens);
  const preview = usePreview(release, language, opened.begins);
  const { screen, grid, way, answers, at, show } = preview;
  const problem = opened.error ? messageOf(opened.error) : preview.problem;

  const lookUp = useMemo(() => {
    const media = (release as { media?: ReleaseMedia } | null)?.media ?? {};
    return lookUpIn(media, language, languages[0] ?? 'en', (hash) => `/api/studies/${String(studyId)}/media/${hash}`);
  }, [release, language, languages, studyId]);

  const variable = part?.variable ?? '';
  const own = useMemo(
    () => inside.map((name) => way.find((path) => path === name || path.endsWith(`/${name}`))).find(Boolean),
    [inside, way],
  );
  useEffect(() => {
    const elsewhere = at.current === null || !inside.includes(at.current.split('/').at(-1) ?? '');
    if (own !== undefined && elsewhere) void show(own);
    // Follows the active line, not the preview's own steps.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [variable, own]);

  const go = (path: string | null) => {
    if (path === null) return;
    setTried(false);
    void show(path);
    onGo(path.split('/').at(-1) ?? '');
  };
  const asGrid = wide && standsInGrid(grid);
  const [first, last] = asGrid ? [grid[0], grid.at(-1)] : [screen, screen];
  const next = () => {
    const here = asGrid ? grid : screen ? [screen] : [];
    if (here.some((line) => line.findings.some((f) => f.strength === 'must' || f.kept === ''))) setTried(true);
    else go(last?.next ?? null);
  };
  const { answer, keep } = preview;
  const clear = () => {
    if (opens !== null) onOpen(null);
    void preview.startAgain();
  };

  return (
    <div className="pane-body phone-pane">
      <div className="phone-bar">
        <Choice
          label={t('questionnaire.phoneSize')}
          value={wide ? 'wide' : 'phone'}
          options={[
            { value: 'phone', label: t('questionnaire.phone') },
            { value: 'wide', label: t('questionnaire.wideScreen') },
          ]}
          onChange={(value) => {
            setWide(value === 'wide');
          }}
        />
        {languages.length > 1 && (
          <Choice
            label={t('languages.ofPhone')}
            value={language}
            options={languages.map((tag) => ({ value: tag, label: languageName(tag) }))}
            onChange={setLanguage}
          />
        )}
      </div>
      <div className={wide ? 'phone wide' : 'phone'} dir={directionOf(language)} lang={language}>
        <div className="phone-progress">
          <i style={{ width: `${String(100 * (screen?.progress ?? 0))}%` }} />
        </div>
        <div className="phone-screen">
          {screen ? (
            <>
              <p className="phone-place">
                {(asGrid ? screen.around.slice(0, -1) : screen.around)
                  .map((a) => (a.kind === 'roster' ? phone('person', { row: a.row ?? 0, rows: a.rows ?? 0 }) : a.title))
                  .join(' · ')}
              </p>
              <PositioningContext value={AT_THE_DESK}>
                <SheetsContext value={sheets}>
                  <InstrumentContext value={NO_INSTRUMENT}>
                    <MediaContext value={lookUp}>
                      {asGrid ? (
                        <Grid
                          lines={grid}
                          t={phone}
                          showNeeded={tried}
                          onAnswer={(path, value) => void answer(path, value)}
                          onKeep={(path, check, reason) => void keep(path, check, reason)}
                        />
                      ) : (
                        <Question
                          screen={screen}
                          t={phone}
                          language={language}
                          showNeeded={tried}
                          onAnswer={(value: Json) => void answer(screen.path, value)}
                          findCodes={(typed) => theEngine().call('findCodes', SESSION, screen.path, typed)}
                          onKeep={(check, reason) => void keep(screen.path, check, reason)}
                        />
                      )}
                    </MediaContext>
                  </InstrumentContext>
                </SheetsContext>
              </PositioningContext>
              {!asGrid && screen.special_allowed.length > 0 && (
                <div className="specials">
                  {screen.special_allowed.map((name) => (
                    <button
                      key={name}
                      type="button"
                      aria-pressed={screen.special === name}
                      onClick={() => void answer(screen.path, screen.special === name ? null : { special: name })}
                    >
                      {phone(name as InterviewText)}
                    </button>
                  ))}
                </div>
              )}
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
            disabled={!first?.previous}
            aria-label={phone('back')}
            onClick={() => {
              go(first?.previous ?? null);
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
      <TestBar
        questionnaireId={questionnaireId}
        answers={answers}
        language={language}
        outside={() => preview.outside.current}
        opens={readOpens(opens)}
        readOnly={readOnly}
        onOpen={onOpen}
      />
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

function Choice({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: { value: string; label: string }[];
  onChange: (value: string) => void;
}) {
  return (
    <div className="phone-choice" role="radiogroup" aria-label={label}>
      {options.map((option) => (
        <button
          key={option.value}
          type="button"
          role="radio"
          aria-checked={option.value === value}
          onClick={() => {
            onChange(option.value);
          }}
        >
          {option.label}
        </button>
      ))}
    </div>
  );
}
