// A code read by the live camera: held before it, and taken by itself.
import { useEffect, useRef, useState } from 'react';
import './scanning.css';

interface Props {
  label: string;
  /** The words of the switch for the lamp, where the camera has one. */
  lamp: string;
  onCode: (text: string) => void;
  /** There is no camera, or it may not be used. */
  onNone: () => void;
}

const BETWEEN_LOOKS_MS = 120;
/** A linear code has no check of its own in some symbologies: it has to be read twice alike. */
const ALIKE = 2;

/** Whether this page may ask for a camera at all: browsers give none to pages fetched over a plain connection. */
export const hasCamera = (): boolean => 'mediaDevices' in navigator;

export function Viewfinder({ label, lamp, onCode, onNone }: Props) {
  const video = useRef<HTMLVideoElement>(null);
  const [track, setTrack] = useState<MediaStreamTrack | null>(null);
  const told = useRef({ onCode, onNone });
  useEffect(() => {
    told.current = { onCode, onNone };
  });
  useEffect(() => {
    const stop = new AbortController();
    const isOver = () => stop.signal.aborted;
    let stream: MediaStream | null = null;
    const look = async () => {
      stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' }, audio: false });
      const shown = video.current;
      if (isOver() || shown === null) return;
      shown.srcObject = stream;
      await shown.play();
      setTrack(stream.getVideoTracks()[0] ?? null);
      const text = await codeBefore(shown, isOver);
      if (text === null || isOver()) return;
      if ('vibrate' in navigator) navigator.vibrate(60);
      told.current.onCode(text);
    };
    const end = () => {
      stream?.getTracks().forEach((one) => {
        one.stop();
      });
    };
    look()
      .catch((error: unknown) => {
        if (isOver()) return;
        console.warn(error);
        told.current.onNone();
      })
      .finally(() => {
        if (isOver()) end();
      });
    return () => {
      stop.abort();
      end();
    };
  }, []);
  return (
    <div className="viewfinder">
      <video ref={video} muted playsInline aria-label={label} />
      <span className="viewfinder-frame" aria-hidden />
      {track !== null && hasLamp(track) && <Lamp track={track} words={lamp} />}
    </div>
  );
}

/** What a code says that is held before a camera; null once nobody waits for it any more. */
async function codeBefore(shown: HTMLVideoElement, isOver: () => boolean): Promise<string | null> {
  const { codeInPicture } = await import('./codeReader');
  const canvas = document.createElement('canvas');
  const context = canvas.getContext('2d', { willReadFrequently: true });
  let last: string | null = null;
  let alike = 0;
  while (alike < ALIKE) {
    await new Promise((on) => setTimeout(on, BETWEEN_LOOKS_MS));
    if (isOver() || context === null) return null;
    if (shown.videoWidth === 0) continue;
    canvas.width = shown.videoWidth;
    canvas.height = shown.videoHeight;
    context.drawImage(shown, 0, 0);
    const text = await codeInPicture(context.getImageData(0, 0, canvas.width, canvas.height));
    alike = text === null ? 0 : text === last ? alike + 1 : 1;
    last = text;
  }
  return last;
}

// The lamp is not yet among the types that TypeScript ships.
type WithLamp = MediaTrackCapabilities & { torch?: boolean };
const hasLamp = (track: MediaStreamTrack): boolean => (track.getCapabilities() as WithLamp).torch === true;

function Lamp({ track, words }: { track: MediaStreamTrack; words: string }) {
  const [on, setOn] = useState(false);
  return (
    <button
      type="button"
      className="viewfinder-lamp"
      aria-pressed={on}
      onClick={() => {
        const lit = { torch: !on } as MediaTrackConstraintSet;
        void track.applyConstraints({ advanced: [lit] }).then(() => {
          setOn(!on);
        });
      }}
    >
      {words}
    </button>
  );
}
