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
  return { ...shown, text: shown.text.includes('.') ? shown.text.replace(/\.?0+$/, '') : shown.text };
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
