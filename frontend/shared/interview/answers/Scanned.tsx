// A code that stands on a thing: read by the live camera or from a picture, typed where neither can.
import { useState } from 'react';
import { hasCamera, Viewfinder } from '../../scanning/Viewfinder';
import { Typed } from './Typed';
import type { AnswerProps } from './props';

export function Scanned(props: AnswerProps) {
  const { screen, t, onAnswer } = props;
  const [looking, setLooking] = useState(false);
  const [camera, setCamera] = useState(hasCamera);
  const [read, setRead] = useState({ times: 0, value: screen.value });
  const [missed, setMissed] = useState(false);
  const [refused, setRefused] = useState(false);
  const take = (text: string | null) => {
    setLooking(false);
    setMissed(text === null);
    if (text === null) return;
    setRead({ times: read.times + 1, value: text.trim() });
    onAnswer(text.trim());
  };
  const inPicture = async (file: File | undefined) => {
    if (file === undefined) return;
    const { codeInPicture } = await import('../../scanning/codeReader');
    take(await codeInPicture(file).catch(() => null));
  };
  return (
    <div className="answer-block">
      {looking ? (
        <>
          <Viewfinder
            label={t('scanHint')}
            lamp={t('lamp')}
            onCode={take}
            onNone={() => {
              setLooking(false);
              setCamera(false);
              setRefused(true);
            }}
          />
          <p className="question-instruction">{t('scanHint')}</p>
          <button
            type="button"
            className="answer-button quiet"
            onClick={() => {
              setLooking(false);
            }}
          >
            {t('stop')}
          </button>
        </>
      ) : camera ? (
        <button
          type="button"
          className="answer-button"
          onClick={() => {
            setLooking(true);
            setMissed(false);
          }}
        >
          {t('scan')}
        </button>
      ) : (
        <label className="answer-button">
          <input
            type="file"
            accept="image/*"
            capture="environment"
            onChange={(event) => void inPicture(event.target.files?.[0])}
          />
          {t('scanPicture')}
        </label>
      )}
      {refused && !missed && (
        <p className="note should" role="status">
          {t('noCamera')}
        </p>
      )}
      {missed && (
        <p className="note should" role="status">
          {t('noCodeFound')}
        </p>
      )}
      {/* Typed keeps what is typed for itself: a code that was read begins it anew. */}
      <Typed key={read.times} {...props} screen={read.times === 0 ? screen : { ...screen, value: read.value }} />
    </div>
  );
}
