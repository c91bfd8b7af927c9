/** The temper ramp: what steel shows as it is heated, the one sequential scale of Orthotome. Its colours are steel.css's. */
const RAMP = ['var(--straw)', 'var(--bronze)', 'var(--brown)', 'var(--purple)', 'var(--blue)'] as const;

/** Colour of a chance from 0 (straw) to 1 (blue). */
export function temper(chance: number): string {
  const at = Math.min(Math.max(chance, 0), 0.9999) * (RAMP.length - 1);
  const low = RAMP[Math.floor(at)] ?? RAMP[0];
  const high = RAMP[Math.floor(at) + 1] ?? RAMP[4];
  return `color-mix(in srgb, ${high} ${((at % 1) * 100).toFixed(1)}%, ${low})`;
}

export const TEMPER_GRADIENT = `linear-gradient(90deg, ${RAMP.join(', ')})`;
