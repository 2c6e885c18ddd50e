// Drawing on a photo with the finger: an arrow to the crack, a ring round the plate.
import SignaturePad from 'signature_pad';
import { useEffect, useRef, type SyntheticEvent } from 'react';
import type { AnswerProps } from './props';

interface Props {
  /** The address of the photo. */
  photo: string;
  t: AnswerProps['t'];
  /** The photo with what was drawn on it; null where it stays as it was. */
  onDone: (drawn: Blob | null) => void;
}

const QUALITY = 0.9;

export function Drawing({ photo, t, onDone }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const pad = useRef<SignaturePad | null>(null);
  const picture = useRef<HTMLImageElement | null>(null);
  useEffect(() => {
    const c = canvas.current;
    if (!c) return;
    const image = new Image();
    image.onload = () => {
      c.width = image.naturalWidth;
      c.height = image.naturalHeight;
      const scale = c.width / c.clientWidth;
      c.getContext('2d')?.scale(scale, scale);
      picture.current = image;
      pad.current = new SignaturePad(c, {
        penColor: '#D42A1E',
        minWidth: 2,
        maxWidth: 4,
        backgroundColor: 'rgba(0,0,0,0)',
      });
    };
    image.src = photo;
    return () => {
      pad.current?.off();
    };
  }, [photo]);
  const undo = () => {
    const strokes = pad.current?.toData() ?? [];
    pad.current?.fromData(strokes.slice(0, -1));
  };
  const keep = () => {
    const c = canvas.current;
    if (!c || !picture.current || pad.current?.isEmpty() !== false) {
      onDone(null);
      return;
    }
    // Below the strokes: they were drawn over nothing, so that one can be undone.
    const whole = new OffscreenCanvas(c.width, c.height);
    const context = whole.getContext('2d');
    context?.drawImage(picture.current, 0, 0, c.width, c.height);
    context?.drawImage(c, 0, 0);
    void whole.convertToBlob({ type: 'image/jpeg', quality: QUALITY }).then(onDone);
  };
  // A stroke is not a swipe to the next question.
  const still = (event: SyntheticEvent) => {
    event.stopPropagation();
  };
  return (
    <div className="answer-block" onTouchStart={still}>
      <canvas
        ref={canvas}
        className="drawing"
        role="img"
        aria-label={t('drawOnIt')}
        style={{ backgroundImage: `url(${photo})` }}
      />
      <button type="button" className="answer-button" onClick={keep}>
        {t('drawn')}
      </button>
      <button type="button" className="answer-button quiet" onClick={undo}>
        {t('undoStroke')}
      </button>
    </div>
  );
}
