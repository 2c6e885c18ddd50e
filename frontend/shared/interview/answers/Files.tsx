// Photos, recordings and files: kept by the hash of their content; the answer only refers to them.
import { useEffect, useState } from 'react';
import { hashOf } from '../../hash';
import { Drawing } from './Drawing';
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
  return { file: await hashOf(file), name, type: file.type, bytes: file.size };
}

const size = (bytes: unknown): string =>
  typeof bytes !== 'number'
    ? ''
    : bytes < 1e6
      ? `${String(Math.max(1, Math.round(bytes / 1000)))} kB`
      : `${(bytes / 1e6).toFixed(1)} MB`;

export function FileAnswer({ screen, t, labelledBy, onAnswer, keepFile = referenceTo, readFile }: AnswerProps) {
  const { accept, capture } = ACCEPTS[screen.kind] ?? { accept: '*/*' };
  const name = field(screen.value, 'name');
  const kept = useKept(field(screen.value, 'file'), readFile);
  const [isDrawing, setDrawing] = useState(false);
  if (isDrawing && kept !== null)
    return (
      <Drawing
        photo={kept}
        t={t}
        onDone={(drawn) => {
          setDrawing(false);
          if (drawn) void keepFile(drawn, typeof name === 'string' ? name : 'photo.jpg').then(onAnswer);
        }}
      />
    );
  return (
    <div className="answer-block">
      {kept !== null && <Shown kind={screen.kind} address={kept} />}
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
      {kept !== null && screen.kind === 'photo' && (
        <button
          type="button"
          className="answer-button"
          onClick={() => {
            setDrawing(true);
          }}
        >
          {t('drawOnIt')}
        </button>
      )}
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

/** The address of a kept file for as long as it is shown; null where it is not at hand. */
function useKept(hash: unknown, readFile: AnswerProps['readFile']): string | null {
  const [kept, setKept] = useState<{ hash: string; address: string } | null>(null);
  useEffect(() => {
    if (typeof hash !== 'string' || readFile === undefined) return;
    const stop = new AbortController();
    let address = '';
    void readFile(hash).then((file) => {
      if (file === null || stop.signal.aborted) return;
      address = URL.createObjectURL(file);
      setKept({ hash, address });
    });
    return () => {
      stop.abort();
      if (address !== '') URL.revokeObjectURL(address);
    };
    // The way of reading is made anew with every screen; the file is not.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [hash]);
  return kept !== null && kept.hash === hash ? kept.address : null;
}

/** A photo, a recording or a film as it was taken. */
function Shown({ kind, address }: { kind: string; address: string }) {
  if (kind === 'photo') return <img className="answer-photo" src={address} alt="" />;
  // What somebody has just recorded has no captions.
  // eslint-disable-next-line jsx-a11y/media-has-caption
  if (kind === 'audio') return <audio className="answer-sound" src={address} controls />;
  // eslint-disable-next-line jsx-a11y/media-has-caption
  if (kind === 'video') return <video className="answer-photo" src={address} controls playsInline />;
  return null;
}
