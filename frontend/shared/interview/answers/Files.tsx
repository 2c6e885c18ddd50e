// Photos, recordings, files and signatures: kept by the hash of their content; the answer only refers to them.
import SignaturePad from 'signature_pad';
import { useEffect, useRef, useState, type SyntheticEvent } from 'react';
import type { AnswerProps, FileReference } from './props';
import { field } from './props';

const ACCEPTS: Record<string, { accept: string; capture?: 'environment' }> = {
  photo: { accept: 'image/*', capture: 'environment' },
  audio: { accept: 'audio/*', capture: 'environment' },
  video: { accept: 'video/*', capture: 'environment' },
  file: { accept: '*/*' },
};

/** The reference of a file: its SHA-256, name, type and size. */
export async function referenceTo(file: Blob, name: string): Promise<FileReference> {
  const digest = await crypto.subtle.digest('SHA-256', await file.arrayBuffer());
  const hash = [...new Uint8Array(digest)].map((byte) => byte.toString(16).padStart(2, '0')).join('');
  return { file: hash, name, type: file.type, bytes: file.size };
}

const size = (bytes: unknown): string =>
  typeof bytes !== 'number'
    ? ''
    : bytes < 1e6
      ? `${String(Math.max(1, Math.round(bytes / 1000)))} kB`
      : `${(bytes / 1e6).toFixed(1)} MB`;

export function FileAnswer({ screen, t, labelledBy, onAnswer, keepFile = referenceTo }: AnswerProps) {
  const { accept, capture } = ACCEPTS[screen.kind] ?? { accept: '*/*' };
  const name = field(screen.value, 'name');
  return (
    <div className="answer-block">
      {typeof name === 'string' && (
        <p className="answer-shown">
          {name} <span>{size(field(screen.value, 'bytes'))}</span>
        </p>
      )}
      <label className="answer-button">
        <input
          type="file"
          aria-labelledby={labelledBy}
          accept={accept}
          capture={capture}
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) void keepFile(file, file.name).then(onAnswer);
          }}
        />
        {typeof name === 'string'
          ? t('takeAgain')
          : t(screen.kind === 'file' ? 'chooseFile' : screen.kind === 'photo' ? 'takePhoto' : 'record')}
      </label>
      {typeof name === 'string' && (
        <button
          type="button"
          className="answer-button quiet"
          onClick={() => {
            onAnswer(null);
          }}
        >
          {t('remove')}
        </button>
      )}
    </div>
  );
}

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
    made.addEventListener('endStroke', () => {
      setDrawn(true);
      c.toBlob((blob) => {
        const { keepFile: keep, onAnswer: answer, name } = given.current;
        if (blob) void keep(blob, name).then(answer);
      }, 'image/png');
    });
    pad.current = made;
    return () => {
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
