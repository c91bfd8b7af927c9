/**
 * Showing kept units (mm, mm/min, V, s, deg) in the shop's. Reading what is typed is the server's work
 * (core/units.py); the factors here are the inch's definition and nothing else.
 */
export interface ShopUnits {
  length_unit: string;
  speed_unit: string;
}

const LENGTH: Record<string, { per: number; digits: number }> = {
  mm: { per: 1, digits: 2 },
  in: { per: 25.4, digits: 3 },
  thou: { per: 0.0254, digits: 0 },
};

const SPEED: Record<string, { per: number; digits: number }> = {
  'mm/min': { per: 1, digits: 0 },
  'm/min': { per: 1000, digits: 2 },
  'in/min': { per: 25.4, digits: 0 },
};

type Way = { unit: string; per: number; digits: number; zero?: number };

/** What goes along with the shop's length: for a millimetre shop, and for an inch shop. */
const ALONG: Record<Along, [Way, Way]> = {
  pressure: [
    { unit: 'kPa', per: 1, digits: 0 },
    { unit: 'psi', per: 6.894757, digits: 0 },
  ],
  flow: [
    { unit: 'l/min', per: 1, digits: 0 },
    { unit: 'ft3/min', per: 28.316847, digits: 1 },
  ],
  volume: [
    { unit: 'l', per: 1, digits: 0 },
    { unit: 'gal', per: 3.785412, digits: 0 },
  ],
  gas: [
    { unit: 'l', per: 1, digits: 0 },
    { unit: 'ft3', per: 28.316847, digits: 1 },
  ],
  run: [
    { unit: 'm', per: 1, digits: 1 },
    { unit: 'ft', per: 0.3048, digits: 0 },
  ],
  acceleration: [
    { unit: 'mm/s2', per: 1, digits: 0 },
    { unit: 'in/s2', per: 25.4, digits: 1 },
  ],
  slope: [
    { unit: 'V/mm', per: 1, digits: 1 },
    { unit: 'V/in', per: 1 / 25.4, digits: 0 },
  ],
  temperature: [
    { unit: 'C', per: 1, digits: 0 },
    { unit: 'F', per: 5 / 9, digits: 0, zero: 32 },
  ],
};

export type Along =
  'pressure' | 'flow' | 'volume' | 'gas' | 'run' | 'acceleration' | 'slope' | 'temperature';

export const inInches = (units: ShopUnits): boolean => units.length_unit !== 'mm';

/** The unit in which a shop types such a quantity. */
export const unitOf = (quantity: Along, units: ShopUnits): string =>
  ALONG[quantity][inInches(units) ? 1 : 0].unit;

/** A kept number of such a quantity in the shop's unit. */
export function showAlong(quantity: Along, kept: number, units: ShopUnits): Shown {
  const { unit, per, digits, zero } = ALONG[quantity][inInches(units) ? 1 : 0];
  return { text: trimmed(plain(kept / per + (zero ?? 0), digits)), unit };
}

/** What a field of such a quantity begins with: nothing where nothing is known. */
export const textAlong = (quantity: Along, kept: number | null | undefined, units: ShopUnits): string =>
  kept === null || kept === undefined ? '' : showAlong(quantity, kept, units).text;

const trimmed = (text: string): string => (text.includes('.') ? text.replace(/\.?0+$/, '') : text);

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
  const { per, digits } = SPEED[units.speed_unit] ?? { per: 1, digits: 0 };
  return { text: plain(mm_min / per, digits), unit: units.speed_unit };
}

export function showLength(mm: number, units: ShopUnits): Shown {
  const { per, digits } = LENGTH[units.length_unit] ?? { per: 1, digits: 2 };
  return { text: plain(mm / per, digits), unit: units.length_unit };
}

/** Sheet thickness: no more digits than it was given with. */
export function showThickness(mm: number, units: ShopUnits): Shown {
  const shown = showLength(mm, units);
  return { ...shown, text: trimmed(shown.text) };
}

/** Sizes of plates and pieces: whole millimetres or tenths of an inch, and never less than is needed. */
export function showSize(mm: number, units: ShopUnits): Shown {
  if (!inInches(units)) return { text: String(Math.ceil(mm - 1e-6)), unit: 'mm' };
  return { text: trimmed((Math.ceil((mm / 25.4) * 10 - 1e-6) / 10).toFixed(1)), unit: 'in' };
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
