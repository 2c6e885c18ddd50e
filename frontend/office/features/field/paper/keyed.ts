// What a keyer types, as an answer: codes by their number, dates as digits, several answers with spaces between.
import { KINDS } from '../../../../shared/api/contract';
import type { CodesFound, Json, Screen } from '../../../../shared/engine/types';
import { field } from '../../../../shared/interview/answers/props';
import { fitMask } from '../../../../shared/interview/mask';
import { clockAt, momentAt } from '../../../ui/moments';

/** Why something typed is no answer. */
export type Slip = 'noCode' | 'severalCodes' | 'noDate' | 'noTime' | 'noNumber' | 'noUnit' | 'noPlace' | 'yesOrNo';
export type Typed = { value: Json } | { slip: Slip };

/** Typed in place of an answer. */
export const DONT_KNOW = '?';
export const REFUSED = '!';

/** What is on the paper but cannot be typed: pictures, signatures, drawings. */
export const isKeyed = (screen: Screen): boolean =>
  !['', 'file', 'signature', 'positions'].includes(KINDS[screen.kind].input);

type Code = Screen['codes'][number];
type FindCodes = (typed: string) => Promise<CodesFound>;

const plain = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase().trim();

/** Whether the codes of a question are numbers already; else they are counted off on the keyer's screen. */
export const areNumbers = (codes: Code[]): boolean => codes.every((code) => /^\d+$/.test(code.code));

/** The codes that what was typed may mean: the very code, its place in the list, or the beginning of its name. */
function meant(codes: Code[], typed: string): Code[] {
  const exact = codes.filter((code) => code.code.toLowerCase() === typed.toLowerCase());
  if (exact.length > 0) return exact;
  if (/^\d+$/.test(typed)) {
    const place = areNumbers(codes) ? undefined : codes[Number(typed) - 1];
    return place === undefined ? [] : [place];
  }
  const named = codes.filter((code) => plain(code.label) === plain(typed));
  if (named.length > 0) return named;
  return codes.filter((code) => [code.code, code.label].some((text) => plain(text).startsWith(plain(typed))));
}

async function codeOf(screen: Screen, typed: string, findCodes: FindCodes): Promise<Typed> {
  const codes = screen.codes_left > 0 ? (await findCodes(typed)).codes : screen.codes;
  const found = meant(codes, typed);
  if (found.length > 1) return { slip: 'severalCodes' };
  return found[0] === undefined ? { slip: 'noCode' } : { value: found[0].code };
}

async function codesOf(screen: Screen, typed: string, findCodes: FindCodes): Promise<Typed> {
  const chosen: Json[] = [];
  for (const piece of typed.split(/[\s,;]+/).filter((one) => one !== '')) {
    const one = await codeOf(screen, piece, findCodes);
    if ('slip' in one) return one;
    if (!chosen.includes(one.value)) chosen.push(one.value);
  }
  return { value: chosen };
}

/** 2027-03-14 from 14032027, 140327, 14.3.2027, 14/3/27 or itself; null where it is none. */
export function dateOf(typed: string): string | null {
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(typed);
  const digits =
    /^(\d{2})(\d{2})(\d{2}|\d{4})$/.exec(typed) ?? /^(\d{1,2})[./ -](\d{1,2})[./ -](\d{2}|\d{4})$/.exec(typed);
  const [, day, month, year] = iso ? [iso[0], iso[3], iso[2], iso[1]] : (digits ?? []);
  if (day === undefined || month === undefined || year === undefined) return null;
  const written = `${year.length === 2 ? `20${year}` : year}-${month.padStart(2, '0')}-${day.padStart(2, '0')}`;
  const moment = new Date(`${written}T00:00:00Z`);
  return Number.isNaN(moment.getTime()) || moment.toISOString().slice(0, 10) !== written ? null : written;
}

/** 09:30 from 0930, 930, 9:30 or 9.30; null where it is none. */
export function timeOf(typed: string): string | null {
  const match = /^(\d{1,2})[:.]?(\d{2})$/.exec(typed);
  const [hour, minute] = [Number(match?.[1]), Number(match?.[2])];
  if (match === null || hour > 23 || minute > 59) return null;
  return `${String(hour).padStart(2, '0')}:${String(minute).padStart(2, '0')}`;
}

function plainText(screen: Screen, typed: string): Typed {
  switch (screen.kind) {
    case 'date': {
      const date = dateOf(typed);
      return date === null ? { slip: 'noDate' } : { value: date };
    }
    case 'time': {
      const time = timeOf(typed);
      return time === null ? { slip: 'noTime' } : { value: time };
    }
    case 'whole number':
    case 'decimal':
      return /^-?\d+([.,]\d+)?$/.test(typed) ? { value: typed } : { slip: 'noNumber' };
    default:
      return { value: fitMask(screen.mask, typed, '') };
  }
}

function amountOf(screen: Screen, typed: string): Typed {
  const match = /^(-?\d+(?:[.,]\d+)?)\s*(.*)$/.exec(typed);
  if (match === null) return { slip: 'noNumber' };
  const [, amount = '', named = ''] = match;
  const units = screen.units;
  const found = units.filter(
    (unit, i) =>
      unit.unit === named || String(i + 1) === named || (named !== '' && plain(unit.label).startsWith(plain(named))),
  );
  const unit = named === '' && units.length === 1 ? units[0] : found[0];
  return unit === undefined ? { slip: 'noUnit' } : { value: { amount, unit: unit.unit } };
}

function placeOf(typed: string): Typed {
  const [latitude, longitude, accuracy] = typed.split(/[\s;]+/).map(Number);
  const isPlace =
    latitude !== undefined && longitude !== undefined && Math.abs(latitude) <= 90 && Math.abs(longitude) <= 180;
  return isPlace ? { value: { latitude, longitude, accuracy: accuracy ?? null } } : { slip: 'noPlace' };
}

/** The answer that somebody typed for a question; `timeZone` is the study's. */
export async function readTyped(screen: Screen, text: string, findCodes: FindCodes, timeZone: string): Promise<Typed> {
  const typed = text.trim();
  if (typed === '') return { value: null };
  if (typed === DONT_KNOW && screen.special_allowed.includes('dont_know')) return { value: { special: 'dont_know' } };
  if (typed === REFUSED && screen.special_allowed.includes('refused')) return { value: { special: 'refused' } };
  switch (KINDS[screen.kind].input) {
    case 'yes or no':
    case 'read-back': {
      const yes = /^(1|y|yes)$/i.test(typed) ? true : /^(2|n|no)$/i.test(typed) ? false : null;
      if (yes === null) return { slip: 'yesOrNo' };
      if (screen.reads_back === null) return { value: yes };
      return { value: yes ? { confirmed: screen.reads_back.value } : { wrong: screen.reads_back.value } };
    }
    case 'one code':
      return codeOf(screen, typed, findCodes);
    case 'many codes':
    case 'ranking':
      return codesOf(screen, typed, findCodes);
    case 'amount and unit':
      return amountOf(screen, typed);
    case 'instrument':
      return /^-?\d+([.,]\d+)?$/.test(typed)
        ? { value: { amount: typed, instrument: '', time: '' } }
        : { slip: 'noNumber' };
    case 'position':
      return placeOf(typed);
    case 'typed moment': {
      const [day = '', hour = ''] = typed.split(/[\sT]+/);
      const [date, time] = [dateOf(day), timeOf(hour)];
      if (date === null) return { slip: 'noDate' };
      return time === null ? { slip: 'noTime' } : { value: momentAt(timeZone, `${date}T${time}`) };
    }
    default:
      return plainText(screen, typed);
  }
}

/** Whether nothing more can follow what was typed, so that the next question is gone to by itself. */
export function isWhole(screen: Screen, text: string): boolean {
  const typed = text.trim();
  const { input } = KINDS[screen.kind];
  if (input === 'yes or no' || input === 'read-back') return /^[12yn]$/i.test(typed);
  if (input !== 'one code' || screen.codes_left > 0 || !/^\d+$/.test(typed)) return false;
  const numbers = areNumbers(screen.codes)
    ? screen.codes.map((code) => code.code)
    : screen.codes.map((_, i) => String(i + 1));
  return numbers.includes(typed) && !numbers.some((number) => number !== typed && number.startsWith(typed));
}

const plainOf = (value: Json): string => (typeof value === 'string' || typeof value === 'number' ? String(value) : '');

/** An answer as a keyer would type it. */
export function typedOf(screen: Screen, timeZone: string): string {
  const { value } = screen;
  if (screen.special === 'dont_know') return DONT_KNOW;
  if (screen.special === 'refused') return REFUSED;
  if (value === null) return '';
  const numbered = (code: Json): string => {
    const place = screen.codes.findIndex((one) => one.code === code);
    return areNumbers(screen.codes) || screen.codes_left > 0 || place < 0 ? plainOf(code) : String(place + 1);
  };
  switch (KINDS[screen.kind].input) {
    case 'yes or no':
      return value === true ? '1' : '2';
    case 'read-back':
      return field(value, 'confirmed') !== null ? '1' : '2';
    case 'one code':
      return numbered(value);
    case 'many codes':
    case 'ranking':
      return Array.isArray(value) ? value.map(numbered).join(' ') : '';
    case 'amount and unit':
      return `${plainOf(field(value, 'amount'))} ${plainOf(field(value, 'unit'))}`;
    case 'instrument':
      return plainOf(field(value, 'amount'));
    case 'position':
      return `${plainOf(field(value, 'latitude'))} ${plainOf(field(value, 'longitude'))}`;
    case 'typed moment':
      return clockAt(timeZone, plainOf(value)).replace('T', ' ');
    default:
      return plainOf(value);
  }
}

/** Whether an answer is as long as a line. */
export const isWide = (screen: Screen): boolean =>
  ['text', 'date-time', 'multiple answer', 'unit'].includes(screen.kind);

/** What an answer means, beside what was typed. */
export function meaningOf(screen: Screen): string {
  const labels = (codes: Json[]) =>
    codes.map((code) => screen.codes.find((one) => one.code === code)?.label ?? plainOf(code)).join(', ');
  if (Array.isArray(screen.value)) return labels(screen.value);
  if (KINDS[screen.kind].input === 'one code' && screen.value !== null) return labels([screen.value]);
  return screen.reads_back === null ? '' : screen.reads_back.shown;
}
