/** Showing kept units (mm, mm/min, V, s, deg) in the shop's, by core's own table (core/units.py). Reading what is typed is the server's work. */
import { SAID } from './words.gen';

export interface ShopUnits {
  length_unit: string;
  speed_unit: string;
}

interface Way {
  readonly unit: string;
  readonly shown: string;
  readonly per: number;
  readonly zero: number;
  readonly digits: number;
  readonly large: readonly [number, number] | null;
}

type Quantity = keyof typeof SAID;
export type Along = Exclude<Quantity, 'length' | 'speed'>;

/** How the shop says a quantity: the table is core's. */
function wayOf(quantity: Quantity, units: ShopUnits): Way {
  const ways: readonly Way[] = SAID[quantity];
  const own = { length: units.length_unit, speed: units.speed_unit }[quantity as string];
  const at = own === undefined ? (inInches(units) ? 1 : 0) : ways.findIndex((w) => w.unit === own);
  const [first] = SAID[quantity];
  return ways[at] ?? first;
}

function said(quantity: Quantity, kept: number, units: ShopUnits): Shown {
  const { shown, per, zero, digits, large } = wayOf(quantity, units);
  const value = kept / per + zero;
  const few = large !== null && Math.abs(value) >= large[0] ? large[1] : digits;
  return { text: plain(value, few), unit: shown };
}

/** The shop's unit of a length, in millimetres. */
export const lengthPer = (units: ShopUnits): number => wayOf('length', units).per;

/** A shop that thinks in inches, for what is counted in them whatever they are written as. */
export const INCHES: ShopUnits = { length_unit: 'in', speed_unit: 'in/min' };

/** In which a bottle's gauge is read: not in the unit of the air that flows. */
export const bottlePressure = (units: ShopUnits): string => (inInches(units) ? 'psi' : 'bar');

/** Gas along a run of cut. */
export function gasAlong(l_per_m: number, units: ShopUnits, a: string): string {
  const way = SAID.gas[inInches(units) ? 1 : 0];
  const along = (l_per_m * runOf(units).m) / way.per;
  return `${along.toFixed(inInches(units) ? 2 : 0)} ${way.shown} a ${a}`;
}

/** The run by which a shop counts: its unit in metres, and its word. */
export const runOf = (units: ShopUnits): { m: number; word: string; unit: string } =>
  inInches(units)
    ? { m: SAID.run[1].per, word: 'foot', unit: 'ft' }
    : { m: SAID.run[0].per, word: 'metre', unit: 'm' };

export const inInches = (units: ShopUnits): boolean => units.length_unit !== 'mm';

/** The unit in which a shop types such a quantity. */
export const unitOf = (quantity: Along, units: ShopUnits): string => wayOf(quantity, units).unit;

/** A kept number of such a quantity in the shop's unit. */
export function showAlong(quantity: Along, kept: number, units: ShopUnits): Shown {
  const shown = said(quantity, kept, units);
  return { ...shown, text: trimmed(shown.text) };
}

/** What a field of such a quantity begins with: nothing where nothing is known. */
export const textAlong = (quantity: Along, kept: number | null | undefined, units: ShopUnits): string =>
  kept === null || kept === undefined ? '' : showAlong(quantity, kept, units).text;

const trimmed = (text: string): string => (text.includes('.') ? text.replace(/\.?0+$/, '') : text);

/** A unit as it is written: mm/s², where mm/s2 is how it may be typed. */
export const writtenUnit = (unit: string): string =>
  Object.values(SAID)
    .flat()
    .find((way) => way.unit === unit)?.shown ?? unit;

export const withUnit = (shown: Shown): string => `${shown.text} ${shown.unit}`;

export interface Shown {
  text: string;
  unit: string;
}

const plain = (value: number, digits: number): string => {
  const text = Math.abs(value).toFixed(digits);
  return value < 0 && Number(text) !== 0 ? `\u2212${text}` : text;
};

export function showSpeed(mm_min: number, units: ShopUnits): Shown {
  const shown = said('speed', mm_min, units);
  return { ...shown, text: trimmed(shown.text) };
}

/** A length with all of its digits, since it may be typed on: sentences leave the last off large ones. */
export function showLength(mm: number, units: ShopUnits): Shown {
  const { shown, per, digits } = wayOf('length', units);
  return { text: plain(mm / per, digits), unit: shown };
}

/** Sheet thickness, and any length that is typed: no more digits than it was given with, and none left off a large one. */
export function showThickness(mm: number, units: ShopUnits): Shown {
  const shown = showLength(mm, units);
  return { ...shown, text: trimmed(shown.text) };
}

/** Sizes of plates and pieces: whole millimetres or tenths of an inch, and never less than is needed. */
export function showSize(mm: number, units: ShopUnits): Shown {
  if (!inInches(units)) return { text: String(Math.ceil(mm - 1e-6)), unit: 'mm' };
  const inches = mm / SAID.length[1].per;
  return { text: trimmed((Math.ceil(inches * 10 - 1e-6) / 10).toFixed(1)), unit: 'in' };
}

export function showChange(shown: Shown): string {
  return shown.text.startsWith('\u2212') || Number(shown.text) === 0 ? shown.text : `+${shown.text}`;
}

export function showDegrees(deg: number | null | undefined): string {
  if (deg === null || deg === undefined) return 'not read';
  const text = plain(deg, 1);
  return `${text.startsWith('\u2212') || Number(text) === 0 ? text : `+${text}`}\u00b0`;
}

/** A chance in words that do not pretend to more than it knows. */
export function chanceInWords(p: number): string {
  if (p >= 0.95) return '95 in 100 or better';
  if (p < 0.05) return 'less than 1 in 20';
  return `about ${Math.round(p * 10) === 10 ? '9' : Math.max(1, Math.round(p * 10))} in 10`;
}

/** A chance as it is promised: never more than it is, and never a certainty. */
export const chanceIn100 = (p: number): number => Math.max(0, Math.min(99, Math.floor(100 * p)));
