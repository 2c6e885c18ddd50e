// Photos, recordings, files and signatures: kept by the hash of their content; the answer only refers to them.
import { useEffect, useRef, useState, type PointerEvent } from 'react';
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

const size = (bytes: unknown): string => (typeof bytes !== 'number' ? '' : bytes < 1e6 ? `${String(Math.max(1, Math.round(bytes / 1000)))} kB` : `${(bytes / 1e6).toFixed(1)} MB`);

export function FileAnswer({ screen, t, labelledBy, onAnswer, keepFile = referenceTo }: AnswerProps) {
  const { accept, capture } = ACCEPTS[screen.kind] ?? { accept: '*/*' };
  const name = field(screen.value, 'name');
  return (
    <div className="answer-block">
      {typeof name === 'string' && <p className="answer-shown">{name} <span>{size(field(screen.value, 'bytes'))}</span></p>}
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
        {typeof name === 'string' ? t('takeAgain') : t(screen.kind === 'file' ? 'chooseFile' : screen.kind === 'photo' ? 'takePhoto' : 'record')}
      </label>
      {typeof name === 'string' && <button type="button" className="answer-button quiet" onClick={() => { onAnswer(null); }}>{t('remove')}</button>}
    </div>
  );
}

/** A signature drawn with the finger. */
export function Signature({ screen, t, labelledBy, onAnswer, keepFile = referenceTo }: AnswerProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const drawing = useRef(false);
  const [drawn, setDrawn] = useState(false);
  useEffect(() => {
    const c = canvas.current;
    if (!c) return;
    c.width = c.clientWidth;
    c.height = c.clientHeight;
  }, []);
  const at = (event: PointerEvent<HTMLCanvasElement>): [number, number] => {
    const box = event.currentTarget.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };
  const down = (event: PointerEvent<HTMLCanvasElement>) => {
    const pen = canvas.current?.getContext('2d');
    if (!pen) return;
    // A stroke is not a swipe to the next question.
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    drawing.current = true;
    pen.lineWidth = 2.5;
    pen.lineCap = 'round';
    pen.beginPath();
    pen.moveTo(...at(event));
  };
  const move = (event: PointerEvent<HTMLCanvasElement>) => {
    const pen = canvas.current?.getContext('2d');
    if (!drawing.current || !pen) return;
    pen.lineTo(...at(event));
    pen.stroke();
  };
  const up = () => {
    drawing.current = false;
    setDrawn(true);
    canvas.current?.toBlob((blob) => {
      if (blob) void keepFile(blob, `${screen.variable}.png`).then(onAnswer);
    }, 'image/png');
  };
  const clear = () => {
    const c = canvas.current;
    c?.getContext('2d')?.clearRect(0, 0, c.width, c.height);
    setDrawn(false);
    onAnswer(null);
  };
  const kept = field(screen.value, 'file') !== null;
  return (
    <div className="answer-block">
      {kept && !drawn && <p className="answer-shown">✓ {t('signed')}</p>}
      <canvas ref={canvas} className="signature" role="img" aria-labelledby={labelledBy} onTouchStart={(event) => { event.stopPropagation(); }} onPointerDown={down} onPointerMove={move} onPointerUp={up} />
      {(kept || drawn) && <button type="button" className="answer-button quiet" onClick={clear}>{t('remove')}</button>}
    </div>
  );
}
