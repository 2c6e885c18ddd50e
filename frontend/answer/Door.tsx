// What stands before the questions: whose they are, in which language, and whether one may begin.
import { useState } from 'react';
import { inLanguage, languageName } from '../shared/interview/languages';
import type { LinkPage } from './server';
import type { AnswersRow } from './store';
import { Notice } from './Notice';
import { answerTextsIn, momentIn, type Words } from './texts/texts';

interface Props {
  link: LinkPage;
  row: AnswersRow | undefined;
  language: string;
  onSpeak: (language: string) => void;
  onBegin: () => Promise<void>;
  /** Goes on with what is kept here; undefined where nothing is. */
  onGoOn?: () => Promise<void>;
  onForget?: () => void;
}

export function Door({ link, row, language, onSpeak, onBegin, onGoOn, onForget }: Props) {
  const t = answerTextsIn(language);
  const [busy, setBusy] = useState(false);
  const closed = closedWords(link, language, t);
  const start = (go: () => Promise<void>) => {
    setBusy(true);
    void go().finally(() => {
      setBusy(false);
    });
  };
  if (closed !== '' && row === undefined) return <Notice title={closed} study={link.study} />;
  return (
    <Notice title={inLanguage(link.title, language)} study={link.study}>
      {link.name !== '' && <p className="quiet">{t('forAddressee', { name: link.name })}</p>}
      {link.enumerator !== '' && <p className="quiet">{t('asPerson', { name: link.enumerator })}</p>}
      <p className="link-text">{link.texts[language]?.welcome}</p>
      {row === undefined && <p className="quiet">{t('keptHere')}</p>}
      {link.languages.length > 1 && (
        <label className="door-language">
          {t('language')}
          <select
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
        </label>
      )}
      {row !== undefined && <p>{t('begunAt', { moment: momentIn(language, row.startedAt) })}</p>}
      {onGoOn === undefined ? (
        <button
          type="button"
          className="wide-button"
          disabled={busy}
          onClick={() => {
            start(onBegin);
          }}
        >
          {busy ? t('loading') : t('begin')}
        </button>
      ) : (
        <>
          <button
            type="button"
            className="wide-button"
            disabled={busy}
            onClick={() => {
              start(onGoOn);
            }}
          >
            {busy ? t('loading') : t('goOn')}
          </button>
          {closed === '' && <Sure words={t('startAgain')} sure={t('startAgainSure')} onSure={onForget} />}
          <Sure words={t('forget')} sure={t('forgetSure')} onSure={onForget} />
        </>
      )}
      {link.closes_at != null && (
        <p className="quiet small">{t('openFor', { moment: momentIn(language, link.closes_at) })}</p>
      )}
    </Notice>
  );
}

function closedWords(link: LinkPage, language: string, t: Words): string {
  switch (link.standing) {
    case 'closed':
      return t('closed');
    case 'ended':
      return t('ended', { moment: momentIn(language, link.closes_at ?? '') });
    case 'full':
      return t('full');
    case 'not released':
      return t('notReleased');
    case 'answered':
      return t('answeredAlready');
    case 'open':
      return '';
  }
}

/** Asks a second time before something is forgotten. */
export function Sure({ words, sure, onSure }: { words: string; sure: string; onSure?: () => void }) {
  const [asked, setAsked] = useState(false);
  return (
    <button
      type="button"
      className={asked ? 'plain-button sure' : 'plain-button'}
      onBlur={() => {
        setAsked(false);
      }}
      onClick={() => {
        if (asked) onSure?.();
        else setAsked(true);
      }}
    >
      {asked ? sure : words}
    </button>
  );
}
