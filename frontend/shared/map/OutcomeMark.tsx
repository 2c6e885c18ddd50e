// The mark of an outcome beside its words: the one that stands on the map.
import type { Look } from './marks';

export function OutcomeMark({ look: { shape, colour } }: { look: Look }) {
  return (
    <svg className="outcome-mark" viewBox="-8 -8 16 16" width="14" height="14" aria-hidden>
      {shape === 'disc' && <circle r="6.5" fill={colour} />}
      {(shape === 'ring' || shape === 'half') && <circle r="5.7" fill="#fff" stroke={colour} strokeWidth="1.6" />}
      {shape === 'half' && <path d="M0 -5.7 A5.7 5.7 0 0 0 0 5.7 Z" fill={colour} />}
      {shape === 'square' && <rect x="-5.5" y="-5.5" width="11" height="11" fill={colour} />}
      {shape === 'bar' && <rect x="-6.5" y="-2.3" width="13" height="4.6" fill={colour} />}
      {shape === 'triangle' && <path d="M0 -6.5 L6.5 5.2 L-6.5 5.2 Z" fill={colour} />}
      {shape === 'cross' && <path d="M-5 -5 L5 5 M5 -5 L-5 5" stroke={colour} strokeWidth="2.6" />}
    </svg>
  );
}
