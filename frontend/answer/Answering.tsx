// The questions of a link, a section a page; on a wide screen with all sections beside it.
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { theEngine } from '../shared/engine/client';
import type { Screen, Unsaved } from '../shared/engine/types';
import { Asked } from '../shared/interview/Asked';
import { Grid, standsInGrid } from '../shared/interview/Grid';
import { headingOf } from '../shared/interview/headings';
import { directionOf, inLanguage, languageName } from '../shared/interview/languages';
import { lookUpIn, MediaContext } from '../shared/interview/media';
import { textsIn } from '../shared/interview/texts';
import { useSections } from '../shared/interview/useSections';
import { Contents, sectionsOf } from './Contents';
import { Sure } from './Door';
import { End } from './End';
import type { Opened } from './opening';
import { mediaAt, type LinkPage } from './server';
import { forgetAnswers, keepChanges, keepFile, readFile } from './store';
import { answerTextsIn } from './texts/texts';
import { remember, useBackButton } from './useBackButton';

interface Props {
  secret: string;
  link: LinkPage;
  opened: Opened;
  language: string;
  onSpeak: (language: string) => void;
  /** Shows what stands before or behind the questions, as it is now. */
  onLeave: () => void;
}

const ANSWERED = { isLax: false, withLines: true };

export function Answering({ secret, link, opened, language, onSpeak, onLeave }: Props) {
  const { row, release } = opened;
  const { uuid } = row;
  const t = answerTextsIn(language);
  const words = textsIn(language);
  const keep = useCallback(
    (changes: Unsaved, path: string) => keepChanges(secret, uuid, changes, path),
    [secret, uuid],
  );
  const filling = useSections(uuid, opened.first, keep, ANSWERED);
  const { page, lines, speak } = filling;
  const [tried, setTried] = useState(false);
  const [atEnd, setAtEnd] = useState(false);
  const top = useRef<HTMLElement>(null);

  const spoken = useRef(row.language);
  useEffect(() => {
    if (spoken.current === language) return;
    spoken.current = language;
    void speak(language);
  }, [language, speak]);

  const lookUp = useMemo(() => {
    const { media = {}, languages } = release.compiled;
    return lookUpIn(media, language, languages[0] ?? 'en', (hash) => mediaAt(secret, hash));
  }, [release, language, secret]);

  const { go: goIn } = filling;
  const show = useCallback(
    async (path: string | null) => {
      setTried(false);
      setAtEnd(path === null);
      // The history may name what is not asked any more.
      const way = path === null ? [] : await theEngine().call('way', uuid);
      if (path !== null) await goIn(way.includes(path) ? path : (way[0] ?? ''));
      window.scrollTo(0, 0);
      top.current?.focus();
    },
    [goIn, uuid],
  );
  useBackButton(opened.first.page[0]?.path ?? '', show, onLeave);
  const go = (path: string | null) => {
    remember(path);
    return show(path);
  };
  const next = async () => {
    const onward = await filling.onward();
    setTried(onward === 'stopped');
    if (onward === 'stopped') showFirstFinding();
    else await go(onward.path);
  };
  const back = () => {
    window.history.back();
  };

  const sections = sectionsOf(lines, words);
  const here = atEnd ? -1 : sections.findIndex((one) => one.paths.includes(page[0]?.path ?? ''));
  const heading = headingOf(page[0]?.around ?? [], words);
  return (
    <div className="answering" dir={directionOf(language)} lang={language}>
      <header className="answering-head">
        <span className="answering-title">{inLanguage(link.title, language)}</span>
        {link.languages.length > 1 && (
          <select
            aria-label={t('language')}
            value={language}
            onChange={(event) => {
              onSpeak(event.target.value);
            }}
          >
            {link.languages.map((tag) => (
              <option key={tag} value={tag}>
                {languageName(tag)}
              </option>
            ))}
          </select>
        )}
        <progress aria-label={words('progress')} max={1} value={atEnd ? 1 : (page[0]?.progress ?? 0)} />
      </header>
      <div className="answering-body">
        <Contents sections={sections} here={here} title={t('contents')} onGo={(path) => void go(path)} />
        <main className="answering-page" ref={top} tabIndex={-1}>
          {filling.trouble !== null && (
            <p className="note must" role="alert">
              {t('notKept', { why: filling.trouble.message })}
            </p>
          )}
          {atEnd ? (
            <End
              secret={secret}
              uuid={uuid}
              enumerator={link.enumerator}
              language={language}
              onGo={(path) => void go(path)}
              onSent={onLeave}
            />
          ) : (
            <MediaContext value={lookUp}>
              {heading !== '' && <h2 className="answering-section">{heading}</h2>}
              {inGrids(page).map((group) =>
                standsInGrid(group) ? (
                  <section className="asked in-grid" key={group[0]?.path}>
                    <Grid
                      lines={group}
                      t={words}
                      showNeeded={tried}
                      onAnswer={(path, value) => void filling.answer(path, value)}
                      onKeep={(path, check, reason) => void filling.keepFinding(path, check, reason)}
                    />
                  </section>
                ) : (
                  group.map((one) => (
                    <Asked
                      key={one.path}
                      screen={one}
                      t={words}
                      language={language}
                      showNeeded={tried}
                      findCodes={(typed) => filling.findCodes(typed, one.path)}
                      keepFile={(file, name) => keepFile(uuid, file, name, one.kind)}
                      readFile={(hash) => readFile(uuid, hash)}
                      onAnswer={(value) => void filling.answer(one.path, value)}
                      onKeep={(check, reason) => void filling.keepFinding(one.path, check, reason)}
                      onRemoveRow={() => void filling.removeRow(one.removable_row ?? '', one.previous ?? null)}
                    />
                  ))
                ),
              )}
            </MediaContext>
          )}
          <footer className="answering-foot">
            <button type="button" className="wide-button secondary" onClick={back}>
              {t('back')}
            </button>
            {!atEnd && (
              <button type="button" className="wide-button" onClick={() => void next()}>
                {t('next')}
              </button>
            )}
          </footer>
          <Sure
            words={t('forget')}
            sure={t('forgetSure')}
            onSure={() => {
              void filling
                .settled()
                .then(() => forgetAnswers(row, false))
                .then(onLeave);
            }}
          />
        </main>
      </div>
    </div>
  );
}

/** The questions of a page, those of one grid together. */
function inGrids(page: Screen[]): Screen[][] {
  const groups: Screen[][] = [];
  const gridOf = (one: Screen | undefined) => {
    const last = one?.around.at(-1);
    return last?.kind === 'grid' ? last.title : null;
  };
  for (const one of page) {
    const group = groups.at(-1);
    const isSame = group !== undefined && gridOf(one) !== null && gridOf(group[0]) === gridOf(one);
    if (isSame) group.push(one);
    else groups.push([one]);
  }
  return groups;
}

function showFirstFinding(): void {
  window.requestAnimationFrame(() => {
    document.querySelector('.question .note.must, .question .note.should')?.scrollIntoView({ block: 'center' });
  });
}
