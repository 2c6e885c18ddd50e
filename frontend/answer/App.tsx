// The page of a link: the door, the questions, the thanks.
import { useEffect, useState } from 'react';
import { Problem } from '../shared/api/client';
import { Door } from './Door';
import { Answering } from './Answering';
import { open, type Opened } from './opening';
import { lookAt, type LinkPage } from './server';
import { forgetAnswers, readAnswers, type AnswersRow } from './store';
import { Notice } from './Notice';
import { answerTextsIn, languageOf, momentIn, problemIn, showIn } from './texts/texts';

/** What is here: the link, and what this browser keeps of it. */
interface Found {
  link: LinkPage;
  row: AnswersRow | undefined;
}

export function App({ secret }: { secret: string }) {
  const [found, setFound] = useState<Found | null>(null);
  const [opened, setOpened] = useState<Opened | null>(null);
  const [problem, setProblem] = useState<unknown>(null);
  const [wished, setWished] = useState('');
  const [attempt, setAttempt] = useState(0);

  useEffect(() => {
    let live = true;
    Promise.all([lookAt(secret), readAnswers(secret)]).then(
      ([link, row]) => {
        if (live) setFound({ link, row });
      },
      (error: unknown) => {
        if (live) setProblem(error);
      },
    );
    return () => {
      live = false;
    };
  }, [secret, attempt]);

  const language = languageOf(
    found?.link.languages ?? [],
    wished || (found?.row?.language ?? found?.link.language ?? ''),
  );
  const t = answerTextsIn(language);
  useEffect(() => {
    showIn(language);
  }, [language]);
  useEffect(() => {
    if (found) document.title = found.link.study;
  }, [found]);

  const again = () => {
    opened?.letGo();
    setProblem(null);
    setOpened(null);
    setFound(null);
    setAttempt((n) => n + 1);
  };
  const begin = async (row: AnswersRow | null) => {
    setProblem(null);
    try {
      if (found) setOpened(await open(secret, found.link, row, language));
    } catch (error) {
      if (!(error instanceof Problem)) console.error(error);
      setProblem(error);
    }
  };

  if (problem !== null)
    return (
      <Notice title={problemIn(t, problem)} study={found?.link.study}>
        {problem instanceof Problem && problem.code === 'not_signed_in' ? (
          <a className="wide-button" href={`/?then=${encodeURIComponent(window.location.pathname)}`}>
            {t('signIn')}
          </a>
        ) : problem instanceof Problem && problem.code === 'not_found' ? null : (
          <button type="button" className="wide-button secondary" onClick={again}>
            {t('tryAgain')}
          </button>
        )}
      </Notice>
    );
  if (found === null)
    return (
      <Notice title="">
        <p role="status">{t('loading')}</p>
      </Notice>
    );
  const { link, row } = found;
  if (opened !== null)
    return (
      <Answering secret={secret} link={link} opened={opened} language={language} onSpeak={setWished} onLeave={again} />
    );
  if (row?.sentAt !== undefined) {
    const mayAgain = link.standing === 'open';
    return (
      <Notice title={t('thanks')} study={link.study} mark>
        <p className="link-text">{link.texts[language]?.thanks}</p>
        <p className="quiet">{t('sentAt', { moment: momentIn(language, row.sentAt) })}</p>
        {mayAgain && (
          <button
            type="button"
            className="wide-button secondary"
            onClick={() => {
              void forgetAnswers(row, false).then(again);
            }}
          >
            {t('answerAgain')}
          </button>
        )}
      </Notice>
    );
  }
  return (
    <Door
      link={link}
      row={row}
      language={language}
      onSpeak={setWished}
      onBegin={() => begin(null)}
      onGoOn={row === undefined ? undefined : () => begin(row)}
      onForget={
        row === undefined
          ? undefined
          : () => {
              void forgetAnswers(row, false).then(again);
            }
      }
    />
  );
}
