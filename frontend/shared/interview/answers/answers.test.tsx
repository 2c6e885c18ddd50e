import { act, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Json, Screen } from '../../engine/types';
import { metresBetween, PositioningContext, type Fix, type Positioning } from '../positioning';
import { textsIn } from '../texts';
import { dateInWords, dayHere } from './DateAnswer';
import { PointAnswer, ShapeAnswer } from './Places';
import { Typed } from './Typed';

afterEach(() => {
  vi.useRealTimers();
});

/** A device whose positions are told by the test. */
function positions() {
  let tell: (fix: Fix) => void = () => undefined;
  let none: () => void = () => undefined;
  const stopped = vi.fn();
  const positioning: Positioning = {
    watch(onFix, onNone) {
      tell = onFix;
      none = onNone;
      return stopped;
    },
  };
  return {
    positioning,
    stopped,
    stand: (latitude: number, longitude: number, accuracy: number) => {
      act(() => {
        tell({ latitude, longitude, accuracy });
      });
    },
    fail: () => {
      act(() => {
        none();
      });
    },
  };
}

function asked(
  Answer: typeof PointAnswer,
  more: Partial<Screen>,
  onAnswer: (value: Json) => void,
  positioning?: Positioning,
) {
  const props = {
    t: textsIn('en'),
    language: 'en',
    labelledBy: 'x',
    invalid: false,
    findCodes: () => Promise.resolve({ codes: [], more: 0 }),
  };
  const question = { kind: 'point', value: null, special: null, mask: '', example: '', ...more } as Screen;
  const element = <Answer {...props} screen={question} onAnswer={onAnswer} />;
  if (positioning === undefined) return render(element);
  return render(<PositioningContext value={{ positioning, metres: 12 }}>{element}</PositioningContext>);
}

describe('a point', () => {
  it('is kept by itself once it is accurate enough, and the device is let go', () => {
    const onAnswer = vi.fn();
    const device = positions();
    asked(PointAnswer, {}, onAnswer, device.positioning);
    fireEvent.click(screen.getByText('Take the position'));
    device.stand(1, 2, 34);
    expect(screen.getByText('±34 m')).toBeInTheDocument();
    expect(onAnswer).not.toHaveBeenCalled();
    device.stand(1.1, 2.1, 12);
    expect(onAnswer).toHaveBeenCalledExactlyOnceWith({ latitude: 1.1, longitude: 2.1, accuracy: 12 });
    expect(device.stopped).toHaveBeenCalled();
  });

  it('is kept by hand where it does not get better', () => {
    const onAnswer = vi.fn();
    const device = positions();
    asked(PointAnswer, {}, onAnswer, device.positioning);
    fireEvent.click(screen.getByText('Take the position'));
    device.stand(1, 2, 48);
    device.fail();
    fireEvent.click(screen.getByText('Keep it with ±48 m'));
    expect(onAnswer).toHaveBeenCalledExactlyOnceWith({ latitude: 1, longitude: 2, accuracy: 48 });
  });

  it('is typed where the device knows none, and only where such a place is', () => {
    const onAnswer = vi.fn();
    const device = positions();
    asked(PointAnswer, {}, onAnswer, device.positioning);
    fireEvent.click(screen.getByText('Take the position'));
    device.fail();
    const typed = screen.getByPlaceholderText('0.12345, 6.78901');
    fireEvent.change(typed, { target: { value: '91, 4' } });
    expect(onAnswer).not.toHaveBeenCalled();
    fireEvent.change(typed, { target: { value: '-9.5; 4.25' } });
    expect(onAnswer).toHaveBeenCalledExactlyOnceWith({ latitude: -9.5, longitude: 4.25, accuracy: null });
  });
});

it('a path that is walked gets a point after a stride, and none for standing about', () => {
  const kept: Json[] = [];
  const device = positions();
  const shape = (value: Json) => ({ kind: 'path', value }) as Partial<Screen>;
  const { unmount } = asked(ShapeAnswer, shape(null), (value) => kept.push(value), device.positioning);
  fireEvent.click(screen.getByText('Walk along it'));
  device.stand(0, 0, 4);
  expect(kept).toEqual([{ points: [{ latitude: 0, longitude: 0, accuracy: 4 }] }]);
  unmount();
  expect(device.stopped).toHaveBeenCalled();

  const before = { points: [{ latitude: 0, longitude: 0, accuracy: 4 }] };
  asked(ShapeAnswer, shape(before), (value) => kept.push(value), device.positioning);
  fireEvent.click(screen.getByText('Walk along it'));
  device.stand(0.00003, 0, 4);
  expect(kept).toHaveLength(1);
  // Nine metres on, but no better known than to twenty.
  device.stand(0.00008, 0, 20);
  expect(kept).toHaveLength(1);
  device.stand(0.00008, 0, 4);
  expect(kept[1]).toEqual({ points: [...before.points, { latitude: 0.00008, longitude: 0, accuracy: 4 }] });
});

it('measures a degree of a meridian', () => {
  // A sphere of the Earth's mean radius, 6,371,008.8 m (IUGG): 2πR / 360.
  expect(metresBetween({ latitude: 0, longitude: 0 }, { latitude: 1, longitude: 0 })).toBeCloseTo(111_195.08, 1);
  expect(metresBetween({ latitude: 9, longitude: 9 }, { latitude: 9, longitude: 9 })).toBe(0);
});

describe('a date', () => {
  it('is today or yesterday by a tap, by the phone’s own day', () => {
    vi.useFakeTimers({ now: new Date(2026, 2, 1, 0, 30) });
    expect([dayHere(0), dayHere(1)]).toEqual(['2026-03-01', '2026-02-28']);
    const onAnswer = vi.fn();
    asked(Typed, { kind: 'date' }, onAnswer);
    fireEvent.click(screen.getByText('Yesterday'));
    expect(onAnswer).toHaveBeenCalledExactlyOnceWith('2026-02-28');
  });

  it('is shown in words, and in the other calendar that goes with the language', () => {
    expect(dateInWords('2026-03-14', 'en')).toBe('Saturday, March 14, 2026');
    // 1 Ramadan 1447 was 18 February 2026 in the Umm al-Qura calendar (from memory).
    expect(dateInWords('2026-02-18', 'ar')).toContain('1447');
    expect([dateInWords('', 'en'), dateInWords('2026-3', 'en'), dateInWords('2026-13-99', 'en')]).toEqual(['', '', '']);
  });
});
