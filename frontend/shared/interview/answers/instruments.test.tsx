import { act, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Json, Screen } from '../../engine/types';
import {
  InstrumentContext,
  madeUp,
  overBluetooth,
  temperatureIn,
  weightIn,
  type Bluetooth,
  type Driver,
} from '../instruments';
import { textsIn } from '../texts';
import { Instrument } from './Instrument';

const bytes = (...all: number[]) => new DataView(new Uint8Array(all).buffer);

describe('what standard instruments tell', () => {
  it('is a weight in steps of 5 g, or of a hundredth of a pound', () => {
    expect(weightIn(bytes(0, 0xb4, 0x36))).toEqual({ amount: '70.02', unit: 'kg' });
    expect(weightIn(bytes(1, 0x6e, 0x05))).toEqual({ amount: '13.9', unit: 'lb' });
  });

  it('is a temperature as a float of 24 bits and an exponent of ten', () => {
    expect(temperatureIn(bytes(0, 0x6e, 0x01, 0x00, 0xff))).toEqual({ amount: '36.6', unit: '°C' });
    expect(temperatureIn(bytes(1, 0xce, 0xff, 0xff, 0xff))).toEqual({ amount: '-5', unit: '°F' });
  });
});

/** A scale as a browser tells it, without the browser. */
function scale(): {
  bluetooth: Bluetooth;
  weigh: (...value: number[]) => void;
  walkAway: () => void;
  gone: () => boolean;
} {
  const characteristic = Object.assign(new EventTarget(), {
    value: null as DataView | null,
    startNotifications: () => Promise.resolve(characteristic),
  });
  let gone = false;
  const device = Object.assign(new EventTarget(), {
    name: 'Scale 7',
    gatt: {
      connect: () =>
        Promise.resolve({
          getPrimaryService: (name: string) =>
            name === 'weight_scale'
              ? Promise.resolve({ getCharacteristic: () => Promise.resolve(characteristic) })
              : Promise.reject(new Error('none')),
        }),
      disconnect: () => {
        gone = true;
      },
    },
  });
  return {
    bluetooth: { requestDevice: () => Promise.resolve(device) },
    weigh: (...value) => {
      act(() => {
        characteristic.value = bytes(...value);
        characteristic.dispatchEvent(new Event('characteristicvaluechanged'));
      });
    },
    walkAway: () => {
      act(() => {
        device.dispatchEvent(new Event('gattserverdisconnected'));
      });
    },
    gone: () => gone,
  };
}

const t = textsIn('en');

function asked(driver: Driver | null, onAnswer: (value: Json) => void, isMadeUp = false) {
  const question = {
    kind: 'instrument',
    value: null,
    special: null,
    units: [{ unit: 'kg', label: 'kilos' }],
  } as unknown as Screen;
  return render(
    <InstrumentContext value={{ driver, isMadeUp }}>
      <Instrument
        screen={question}
        t={t}
        language="en"
        labelledBy="x"
        invalid={false}
        findCodes={() => Promise.resolve({ codes: [], more: 0 })}
        onAnswer={onAnswer}
      />
    </InstrumentContext>,
  );
}

const press = async (name: string) => {
  await act(async () => {
    fireEvent.click(screen.getByRole('button', { name }));
    await Promise.resolve();
  });
};

describe('a reading', () => {
  beforeEach(() => {
    vi.useFakeTimers({ now: new Date('2027-03-10T09:00:00Z') });
  });
  afterEach(() => {
    vi.useRealTimers();
  });

  it('is taken from the instrument with its name and the moment', async () => {
    const onAnswer = vi.fn();
    const { bluetooth, weigh, gone } = scale();
    asked(overBluetooth(bluetooth), onAnswer);
    await press('Read from the instrument');
    await act(() => vi.advanceTimersByTimeAsync(10));
    weigh(0, 0xb4, 0x36);
    await press('Take 70.02 kilos');
    expect(onAnswer).toHaveBeenCalledExactlyOnceWith({
      amount: '70.02',
      instrument: 'Scale 7',
      time: '2027-03-10T09:00:00.010Z',
    });
    expect(gone()).toBe(true);
    expect(screen.getByLabelText('Which instrument')).toHaveValue('Scale 7');
  });

  it('is not taken in another unit than the one that is asked for', async () => {
    const { bluetooth, weigh } = scale();
    asked(overBluetooth(bluetooth), vi.fn());
    await press('Read from the instrument');
    await act(() => vi.advanceTimersByTimeAsync(10));
    weigh(1, 0x6e, 0x05);
    expect(screen.getByRole('alert')).toHaveTextContent('The instrument shows 13.9 lb, but this is asked in kilos.');
    expect(screen.queryByRole('button', { name: /^Take/ })).toBeNull();
  });

  it('is typed where the instrument is out of reach', async () => {
    const { bluetooth, walkAway } = scale();
    asked(overBluetooth(bluetooth), vi.fn());
    await press('Read from the instrument');
    await act(() => vi.advanceTimersByTimeAsync(10));
    walkAway();
    expect(screen.getByText(/not in reach/)).toBeVisible();
    expect(screen.getByRole('button', { name: 'Read from the instrument' })).toBeEnabled();
  });

  it('is told that it cannot be had where no instrument is chosen', async () => {
    asked(overBluetooth({ requestDevice: () => Promise.reject(new Error('cancelled')) }), vi.fn());
    await press('Read from the instrument');
    expect(screen.getByText(/not in reach/)).toBeVisible();
  });

  it('is only typed where there is no way to instruments', () => {
    asked(null, vi.fn());
    expect(screen.queryByRole('button')).toBeNull();
  });

  it('of the made-up instrument says so', async () => {
    const onAnswer = vi.fn();
    asked(madeUp, onAnswer, true);
    await press('Read from the made-up instrument');
    await act(() => vi.advanceTimersByTimeAsync(6000));
    await press('Take 12.4 kilos');
    expect(onAnswer.mock.calls[0]?.[0]).toMatchObject({ amount: '12.4', instrument: 'made-up instrument' });
  });
});
