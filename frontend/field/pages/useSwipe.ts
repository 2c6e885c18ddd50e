import { useRef, type TouchEvent } from 'react';

const LEAST_PX = 60;

/** A flick to the left leads on, one to the right leads back; a slanting one is a scroll. Where it is not `active` nothing does. */
export function useSwipe(active: boolean, onLeft: () => void, onRight: () => void) {
  const start = useRef<{ x: number; y: number } | null>(null);
  if (!active) return {};
  return {
    onTouchStart(event: TouchEvent) {
      const touch = event.touches[0];
      start.current = touch ? { x: touch.clientX, y: touch.clientY } : null;
    },
    onTouchEnd(event: TouchEvent) {
      const touch = event.changedTouches[0];
      if (!touch || !start.current) return;
      const dx = touch.clientX - start.current.x;
      const dy = touch.clientY - start.current.y;
      start.current = null;
      if (Math.abs(dx) < LEAST_PX || Math.abs(dx) < 2 * Math.abs(dy)) return;
      if (dx < 0) onLeft();
      else onRight();
    },
  };
}
