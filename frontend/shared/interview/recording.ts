// Sound and film recorded by the browser (MediaRecorder), at rates that fit a voice and a short film on a phone.
import { holdInUse } from './inUse';

const BITS = { audioBitsPerSecond: 32_000, videoBitsPerSecond: 1_200_000 };
const TYPES = {
  audio: ['audio/webm;codecs=opus', 'audio/mp4', 'audio/ogg;codecs=opus'],
  video: ['video/webm;codecs=vp8,opus', 'video/mp4', 'video/webm'],
};
const ENDINGS: Record<string, string> = { webm: 'webm', mp4: 'mp4', ogg: 'ogg' };

/** A recording stops by itself before it is too large to be sent over a poor network: 6 hours of a voice, 11 minutes of film. */
export const BYTES_ARE_LARGE_AT = { audio: 90e6, video: 100e6 };

const PIECE_MS = 1000;

export interface Recording {
  stream: MediaStream;
  bytes: () => number;
  /** How loud it is just now, between 0 and 1. */
  loudness: () => number;
  stop: () => void;
  /** End without keeping anything. */
  drop: () => void;
}

/** Browsers give neither to pages that were fetched over a plain connection. */
export const canRecord = (): boolean => 'MediaRecorder' in window && 'mediaDevices' in navigator;

/**
 * Begin to record; `onDone` is given what was recorded once it is stopped, however that comes about.
 * Throws where there is no microphone or camera, or none may be used.
 */
export async function recordingOf(
  kind: 'audio' | 'video',
  onDone: (recorded: Blob, name: string) => void,
): Promise<Recording> {
  const stream = await navigator.mediaDevices.getUserMedia({
    audio: true,
    video: kind === 'video' && { facingMode: 'environment', width: { ideal: 960 } },
  });
  const type = TYPES[kind].find((one) => MediaRecorder.isTypeSupported(one)) ?? '';
  const recorder = new MediaRecorder(stream, { ...BITS, mimeType: type });
  const sound = listenTo(stream);
  const letGo = holdInUse();
  const pieces: Blob[] = [];
  let bytes = 0;
  let wanted = true;
  recorder.ondataavailable = ({ data }) => {
    pieces.push(data);
    bytes += data.size;
  };
  recorder.onstop = () => {
    stream.getTracks().forEach((track) => {
      track.stop();
    });
    sound.end();
    letGo();
    if (!wanted || bytes === 0) return;
    const plain = recorder.mimeType.split(';')[0] ?? '';
    const ending = ENDINGS[plain.split('/')[1] ?? ''] ?? 'webm';
    onDone(new Blob(pieces, { type: plain }), `${kind}.${ending}`);
  };
  recorder.start(PIECE_MS);
  const stop = () => {
    if (recorder.state !== 'inactive') recorder.stop();
  };
  return {
    stream,
    bytes: () => bytes,
    loudness: sound.loudness,
    stop,
    drop: () => {
      wanted = false;
      stop();
    },
  };
}

const LOUD = 0.3;

function listenTo(stream: MediaStream): { loudness: () => number; end: () => void } {
  const context = new AudioContext();
  const heard = context.createAnalyser();
  heard.fftSize = 512;
  context.createMediaStreamSource(stream).connect(heard);
  const samples = new Float32Array(heard.fftSize);
  return {
    loudness: () => {
      heard.getFloatTimeDomainData(samples);
      const power = samples.reduce((sum, one) => sum + one * one, 0) / samples.length;
      return Math.min(1, Math.sqrt(power) / LOUD);
    },
    end: () => {
      void context.close();
    },
  };
}
