// Photos, recordings and files: kept by the hash of their content; the answer only refers to them.
import { useEffect, useState } from 'react';
import { hashOf } from '../../hash';
import { canRecord } from '../recording';
import { Drawing } from './Drawing';
import { Recorder } from './Recorder';
import type { AnswerProps, FileReference } from './props';
import { field } from './props';
import type { InterviewText } from '../texts';

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
  const records = screen.kind === 'audio' || screen.kind === 'video' ? screen.kind : null;
  const [recorder, setRecorder] = useState<'none' | 'refused' | 'idle' | 'on'>(() =>
    records !== null && canRecord() ? 'idle' : 'none',
  );
  const take = (file: Blob, called: string) => void keepFile(file, called).then(onAnswer);
  if (isDrawing && kept !== null)
    return (
      <Drawing
        photo={kept}
        t={t}
        onDone={(drawn) => {
          setDrawing(false);
          if (drawn) take(drawn, typeof name === 'string' ? name : 'photo.jpg');
        }}
      />
    );
  if (recorder === 'on' && records !== null)
    return (
      <Recorder
        kind={records}
        t={t}
        onDone={(recorded, called) => {
          setRecorder('idle');
          take(recorded, called);
        }}
        onNone={() => {
          setRecorder('refused');
        }}
      />
    );
  return (
    <div className="answer-block" role="group" aria-labelledby={labelledBy}>
      {kept !== null && <Shown kind={screen.kind} address={kept} />}
      {typeof name === 'string' && (
        <p className="answer-shown">
          {name} <span>{size(field(screen.value, 'bytes'))}</span>
        </p>
      )}
      {recorder === 'idle' && (
        <button
          type="button"
          className="answer-button"
          onClick={() => {
            setRecorder('on');
          }}
        >
          {t(typeof name === 'string' ? 'recordAgain' : 'record')}
        </button>
      )}
      {recorder === 'refused' && (
        <p className="note should" role="status">
          {t('noRecorder')}
        </p>
      )}
      <label className={recorder === 'idle' ? 'answer-button quiet' : 'answer-button'}>
        <input
          type="file"
          accept={accept}
          capture={recorder === 'idle' ? undefined : capture}
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) take(file, file.name);
          }}
        />
        {t(nameOfTaking(screen.kind, recorder === 'idle', typeof name === 'string'))}
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

/** What choosing a file is called, beside a recorder or in its place, before and after there is one. */
function nameOfTaking(kind: string, besideRecorder: boolean, again: boolean): InterviewText {
  if (besideRecorder || kind === 'file') return 'chooseFile';
  if (again) return kind === 'photo' ? 'takePhotoAgain' : 'recordAgain';
  return kind === 'photo' ? 'takePhoto' : 'record';
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
