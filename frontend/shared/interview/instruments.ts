// Instruments that tell what they show: over Bluetooth, or a made-up one where there is none. Both have the shape of
// Web Bluetooth: one asks for a device, connects, and is told its values as they change.
import { createContext } from 'react';

/** What an instrument shows, in the unit that it shows it in; "" where it does not say. */
export interface Shown {
  amount: string;
  unit: string;
}

export interface Connected {
  /** The instrument's own name, kept with every reading. */
  name: string;
  /** Be told every value until the function that is returned is called; `onLost` once it is out of reach. */
  watch: (onShown: (shown: Shown) => void, onLost: () => void) => () => void;
}

export interface Driver {
  /** Let somebody choose an instrument near by, and connect to it. Throws where none is chosen or it does not answer. */
  connect: (unit: string) => Promise<Connected>;
}

/** How instruments are spoken to here; null where there is no way: then what they show is typed. */
export const InstrumentContext = createContext<{ driver: Driver | null; isMadeUp: boolean }>({
  driver: null,
  isMadeUp: false,
});

interface Measurement {
  service: string;
  characteristic: string;
  read: (value: DataView) => Shown;
}

const places = (value: number, most: number): string => Number(value.toFixed(most)).toString();

/** Bluetooth GATT, Weight Scale: flags, then a weight in steps of 0.005 kg or 0.01 lb (from memory). */
export function weightIn(value: DataView): Shown {
  const pounds = (value.getUint8(0) & 1) === 1;
  const steps = value.getUint16(1, true);
  return pounds ? { amount: places(steps * 0.01, 2), unit: 'lb' } : { amount: places(steps * 0.005, 3), unit: 'kg' };
}

/** Bluetooth GATT, Health Thermometer: flags, then a 32-bit float of IEEE 11073, 24 bits and an exponent of 10 (from memory). */
export function temperatureIn(value: DataView): Shown {
  const packed = value.getUint32(1, true);
  const mantissa = (packed << 8) >> 8;
  const exponent = packed >> 24;
  return {
    amount: places(mantissa * 10 ** exponent, Math.max(0, -exponent)),
    unit: (value.getUint8(0) & 1) === 1 ? '°F' : '°C',
  };
}

const MEASUREMENTS: Measurement[] = [
  { service: 'weight_scale', characteristic: 'weight_measurement', read: weightIn },
  { service: 'health_thermometer', characteristic: 'temperature_measurement', read: temperatureIn },
];

// The part of Web Bluetooth that is used; TypeScript ships no types of it.
interface Characteristic extends EventTarget {
  value: DataView | null;
  startNotifications: () => Promise<Characteristic>;
}
interface Service {
  getCharacteristic: (name: string) => Promise<Characteristic>;
}
interface Device extends EventTarget {
  name?: string;
  gatt: { connect: () => Promise<{ getPrimaryService: (name: string) => Promise<Service> }>; disconnect: () => void };
}
export interface Bluetooth {
  requestDevice: (wanted: { filters: { services: string[] }[] }) => Promise<Device>;
}

/** Scales and thermometers that speak the standard services of Bluetooth. */
export const overBluetooth = (bluetooth: Bluetooth): Driver => ({
  async connect() {
    const device = await bluetooth.requestDevice({
      filters: MEASUREMENTS.map(({ service }) => ({ services: [service] })),
    });
    const server = await device.gatt.connect();
    for (const { service, characteristic, read } of MEASUREMENTS) {
      const found = await server.getPrimaryService(service).catch(() => null);
      if (found === null) continue;
      const told = await (await found.getCharacteristic(characteristic)).startNotifications();
      return {
        name: device.name ?? service,
        watch(onShown, onLost) {
          const tell = () => {
            if (told.value !== null) onShown(read(told.value));
          };
          told.addEventListener('characteristicvaluechanged', tell);
          device.addEventListener('gattserverdisconnected', onLost);
          return () => {
            told.removeEventListener('characteristicvaluechanged', tell);
            device.removeEventListener('gattserverdisconnected', onLost);
            device.gatt.disconnect();
          };
        },
      };
    }
    throw new Error(`${device.name ?? 'The device'} measures nothing that Skavo reads.`);
  },
});

/** The browser's own way to Bluetooth, where it has one. */
export function ofBrowser(): Driver | null {
  const { bluetooth } = navigator as Navigator & { bluetooth?: Bluetooth };
  return bluetooth === undefined ? null : overBluetooth(bluetooth);
}

const SETTLES_AT = 12.4;
const SWINGS = 6;

/** An instrument that is not there: it swings for some seconds, and settles. Its name says what it is. */
export const madeUp: Driver = {
  connect: (unit) =>
    Promise.resolve({
      name: 'made-up instrument',
      watch(onShown) {
        let told = 0;
        const tell = () => {
          const swing = told < SWINGS ? (SWINGS - told) / (told % 2 === 0 ? 4 : -4) : 0;
          onShown({ amount: places(SETTLES_AT + swing, 2), unit });
          told += 1;
        };
        const timer = window.setInterval(tell, 400);
        return () => {
          window.clearInterval(timer);
        };
      },
    }),
};
