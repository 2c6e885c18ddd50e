// Behind the last question: what is still open, and sending.
import { useEffect, useState } from 'react';
import { Problem } from '../shared/api/client';
import { theEngine } from '../shared/engine/client';
import type { Finding } from '../shared/engine/types';
import { send } from './sending';
import { answerTextsIn, problemIn } from './texts/texts';

interface Props {
  secret: string;
  uuid: string;
  enumerator: string;
  language: string;
  onGo: (path: string) => void;
  onSent: () => void;
}

export function End({ secret, uuid, enumerator, language, onGo, onSent }: Props) {
  const t = answerTextsIn(language);
  const [findings, setFindings] = useState<Finding[] | null>(null);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState('');
  useEffect(() => {
    let live = true;
    void theEngine()
      .call('findings', uuid)
      .then((found) => {
        if (live) setFindings(found.filter((one) => one.kept === ''));
      });
    return () => {
      live = false;
    };
  }, [uuid]);
  const submit = async () => {
    setBusy(true);
    setProblem('');
    try {
      await send(secret, uuid, enumerator, '');
      onSent();
    } catch (error) {
      if (!(error instanceof Problem)) console.error(error);
      setProblem(t('notSent', { why: problemIn(t, error) }));
      setBusy(false);
    }
  };
  const open = findings ?? [];
  return (
    <section className="answering-end">
      <h1>{t('endTitle')}</h1>
      {findings !== null && <p>{open.length === 0 ? t('endReady') : t('endOpen', { count: open.length })}</p>}
      {open.map((one) => (
        <button
          key={`${one.path}#${one.code}${String(one.check)}`}
          type="button"
          className="answering-mend"
          onClick={() => {
            onGo(one.path);
          }}
        >
          {one.message}
        </button>
      ))}
      {problem !== '' && (
        <p className="note must" role="alert">
          {problem}
        </p>
      )}
      <button
        type="button"
        className="wide-button"
        disabled={busy || findings === null || open.length > 0}
        onClick={() => void submit()}
      >
        {busy ? t('sending') : t('send')}
      </button>
    </section>
  );
}
