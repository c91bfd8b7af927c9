/** The way the torch went, seen from the front of the table. */
const ARROW: Record<number, string> = { 0: '→', 90: '↑', 180: '←', 270: '↓' };

export const wayOf = (headingDeg: number): string =>
  ARROW[((headingDeg % 360) + 360) % 360] ?? `${Math.round(headingDeg)}°`;
