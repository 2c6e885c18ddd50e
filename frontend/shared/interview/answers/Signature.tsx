// A signature drawn with the finger, kept once the hand has come to rest.
import SignaturePad from 'signature_pad';
import { useEffect, useRef, useState, type SyntheticEvent } from 'react';
import { referenceTo } from './Files';
import type { AnswerProps } from './props';
import { field } from './props';

/** Several strokes are one signature: it is kept when none has come for so long, or when the question is left. */
const REST_MS = 500;

/** A signature drawn with the finger. */
export function Signature({ screen, t, labelledBy, onAnswer, keepFile = referenceTo }: AnswerProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const pad = useRef<SignaturePad | null>(null);
  const [drawn, setDrawn] = useState(false);
  // What is drawn is handed on by the newest screen's own functions.
  const given = useRef({ keepFile, onAnswer, name: `${screen.variable}.png` });
  useEffect(() => {
    given.current = { keepFile, onAnswer, name: `${screen.variable}.png` };
  });
  useEffect(() => {
    const c = canvas.current;
    if (!c) return;
    const scale = Math.max(1, window.devicePixelRatio);
    c.width = c.clientWidth * scale;
    c.height = c.clientHeight * scale;
    c.getContext('2d')?.scale(scale, scale);
    const made = new SignaturePad(c, { penColor: '#1E2B26' });
    let rest = 0;
    const keepIt = () => {
      window.clearTimeout(rest);
      rest = 0;
      c.toBlob((blob) => {
        const { keepFile: keep, onAnswer: answer, name } = given.current;
        if (blob) void keep(blob, name).then(answer);
      }, 'image/png');
    };
    made.addEventListener('beginStroke', () => {
      window.clearTimeout(rest);
    });
    made.addEventListener('endStroke', () => {
      setDrawn(true);
      rest = window.setTimeout(keepIt, REST_MS);
    });
    pad.current = made;
    return () => {
      if (rest !== 0) keepIt();
      made.off();
    };
  }, []);
  const clear = () => {
    pad.current?.clear();
    setDrawn(false);
    onAnswer(null);
  };
  // A stroke is not a swipe to the next question.
  const still = (event: SyntheticEvent) => {
    event.stopPropagation();
  };
  const kept = field(screen.value, 'file') !== null;
  return (
    <div className="answer-block">
      {kept && !drawn && <p className="answer-shown">✓ {t('signed')}</p>}
      <canvas
        ref={canvas}
        className="signature"
        role="img"
        aria-labelledby={labelledBy}
        onTouchStart={still}
        onPointerDown={still}
      />
      {(kept || drawn) && (
        <button type="button" className="answer-button quiet" onClick={clear}>
          {t('remove')}
        </button>
      )}
    </div>
  );
}
