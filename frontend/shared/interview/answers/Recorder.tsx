// A recording made in the page: what is said, or what is seen and said. It is kept when it is stopped, and also when
// the question is left in the middle.
import { useEffect, useRef, useState } from 'react';
import { BYTES_ARE_LARGE_AT, recordingOf, type Recording } from '../recording';
import type { AnswerProps } from './props';

interface Props {
  kind: 'audio' | 'video';
  t: AnswerProps['t'];
  onDone: (recorded: Blob, name: string) => void;
  /** It cannot be recorded here: there is no microphone or camera, or it may not be used. */
  onNone: () => void;
}

const clock = (seconds: number): string =>
  `${String(Math.floor(seconds / 60))}:${String(seconds % 60).padStart(2, '0')}`;

export function Recorder({ kind, t, onDone, onNone }: Props) {
  const preview = useRef<HTMLVideoElement>(null);
  const level = useRef<HTMLSpanElement>(null);
  const [recording, setRecording] = useState<Recording | null>(null);
  const [seconds, setSeconds] = useState(0);
  const told = useRef({ onDone, onNone });
  useEffect(() => {
    told.current = { onDone, onNone };
  });
  useEffect(() => {
    const left = new AbortController();
    let begun: Recording | null = null;
    const begin = async () => {
      begun = await recordingOf(kind, (recorded, name) => {
        told.current.onDone(recorded, name);
      });
      if (left.signal.aborted) {
        begun.drop();
        return;
      }
      if (preview.current) preview.current.srcObject = begun.stream;
      setRecording(begun);
    };
    begin().catch((error: unknown) => {
      if (left.signal.aborted) return;
      console.warn(error);
      told.current.onNone();
    });
    return () => {
      left.abort();
      begun?.stop();
    };
  }, [kind]);
  useEffect(() => {
    if (recording === null) return;
    const began = Date.now();
    const timer = window.setInterval(() => {
      setSeconds(Math.floor((Date.now() - began) / 1000));
      if (level.current) level.current.style.width = `${String(100 * recording.loudness())}%`;
      if (recording.bytes() >= BYTES_ARE_LARGE_AT[kind]) recording.stop();
    }, 200);
    return () => {
      window.clearInterval(timer);
    };
  }, [kind, recording]);
  return (
    <div className="recorder" role="group" aria-label={t('recording')}>
      {kind === 'video' && <video ref={preview} className="answer-photo" muted playsInline autoPlay />}
      <p className="answer-shown large" role="status">
        <span className={recording === null ? 'recorder-light' : 'recorder-light on'} aria-hidden />
        {recording === null ? t('waiting') : `${t('recording')} ${clock(seconds)}`}
      </p>
      <div className="accuracy-bar" aria-hidden>
        <span ref={level} style={{ width: 0 }} />
      </div>
      <button
        type="button"
        className="answer-button"
        disabled={recording === null}
        onClick={() => {
          recording?.stop();
        }}
      >
        {t('stopRecording')}
      </button>
    </div>
  );
}
