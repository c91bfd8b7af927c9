import { WAYS } from './words.gen';

const ARROWS = ['→', '↗', '↑', '↖', '←', '↙', '↓', '↘'] as const;

const eighth = (azimuthDeg: number) => ((Math.round(azimuthDeg / 45) % 8) + 8) % 8;

/** The way the torch went, or a lean points, seen from the front of the table: an arrow. */
export const arrowOf = (azimuthDeg: number): string => ARROWS[eighth(azimuthDeg)] ?? '';

/** The same in words: to the left and away from you. */
export const wayInWords = (azimuthDeg: number): string => WAYS[eighth(azimuthDeg)] ?? '';
