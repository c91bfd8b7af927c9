/** The temper ramp: what steel shows as it is heated, the one sequential scale of Orthotome. */
const RAMP = [
  [232, 207, 134],
  [197, 139, 60],
  [148, 84, 46],
  [108, 58, 120],
  [47, 87, 150],
] as const;

/** Colour of a chance from 0 (straw) to 1 (blue). */
export function temper(chance: number): string {
  const at = Math.min(Math.max(chance, 0), 0.9999) * (RAMP.length - 1);
  const low = RAMP[Math.floor(at)] ?? RAMP[0];
  const high = RAMP[Math.floor(at) + 1] ?? RAMP[4];
  const mixed = low.map((v, i) => Math.round(v + ((high[i] ?? v) - v) * (at % 1)));
  return `rgb(${mixed.join(' ')})`;
}

export const TEMPER_GRADIENT = `linear-gradient(90deg, ${RAMP.map((c) => `rgb(${c.join(' ')})`).join(', ')})`;
