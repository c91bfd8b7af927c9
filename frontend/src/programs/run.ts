import type { Found, Stroke } from './queries';

/** Where the torch is at a time of the run, and what of the program it has cut by then. */
export interface Place {
  x: number;
  y: number;
  /** Whether it is cutting; between contours it travels, or pierces. */
  cutting: boolean;
  /** Contours that are cut through, and of the next one the points so far. */
  done: number;
  begun: readonly (readonly [number, number])[];
}

type Timed = Pick<Found, 'strokes' | 'moves_off_s'>;

/** The strokes of each contour, in their order. */
export function strokesByContour(found: Timed): Stroke[][] {
  const by: Stroke[][] = found.moves_off_s.map(() => []);
  for (const stroke of found.strokes) by[stroke.contour]?.push(stroke);
  return by;
}

/** The place of the torch so many seconds after the first line; a stroke runs at its mean speed. */
export function placeAt(by: readonly Stroke[][], movesOff: readonly number[], seconds: number): Place {
  let at = -1;
  while (at + 1 < movesOff.length && (movesOff[at + 1] ?? 0) <= seconds) at += 1;
  const begun: [number, number][] = [];
  let left = at < 0 ? seconds : seconds - (movesOff[at] ?? 0);
  for (const stroke of by[at] ?? []) {
    const share = stroke.seconds > 0 ? Math.min(1, left / stroke.seconds) : 1;
    begun.push(...first(stroke.points, share));
    left -= stroke.seconds;
    if (share < 1) {
      const [x, y] = begun.at(-1) ?? [0, 0];
      return { x, y, cutting: true, done: at, begun };
    }
  }
  const start = begun.at(-1) ?? [0, 0];
  const to = by[at + 1]?.[0]?.points[0];
  const gap = (movesOff[at + 1] ?? Infinity) - seconds + left;
  const share = to && Number.isFinite(gap) && gap > 0 ? Math.min(1, left / gap) : 0;
  const [toX = 0, toY = 0] = to ?? start;
  const [x, y] = [start[0] + share * (toX - start[0]), start[1] + share * (toY - start[1])] as const;
  return { x, y, cutting: false, done: at + 1, begun: [] };
}

/** The first share of a path's length. */
function first(points: readonly (readonly number[])[], share: number): [number, number][] {
  const all = points.map(([x = 0, y = 0]): [number, number] => [x, y]);
  if (share >= 1) return all;
  let left = share * all.reduce((sum, p, i) => sum + Math.hypot(...between(all[i - 1] ?? p, p)), 0);
  const kept: [number, number][] = [];
  for (const p of all) {
    const last = kept.at(-1) ?? p;
    const [dx, dy] = between(last, p);
    const step = Math.hypot(dx, dy);
    const part = step > 0 ? Math.min(1, left / step) : 1;
    kept.push([last[0] + part * dx, last[1] + part * dy]);
    if (part < 1) break;
    left -= step;
  }
  return kept;
}

const between = (a: readonly [number, number], b: readonly [number, number]): [number, number] => [
  b[0] - a[0],
  b[1] - a[1],
];
