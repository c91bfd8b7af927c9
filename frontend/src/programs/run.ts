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
  // The last contour that has moved off: nothing else can be under the torch.
  const at = movesOff.findLastIndex((off) => off <= seconds);
  const begun: [number, number][] = [];
  let left = seconds - (movesOff[at] ?? 0);
  for (const stroke of by[at] ?? []) {
    const share = stroke.seconds > 0 ? Math.min(1, left / stroke.seconds) : 1;
    begun.push(...first(stroke.points, share));
    left -= stroke.seconds;
    if (share < 1) {
      const [x, y] = begun.at(-1) ?? [0, 0];
      return { x, y, cutting: true, done: at, begun };
    }
  }
  const until = (movesOff[at + 1] ?? Infinity) - seconds + left;
  const [x, y] = between(begun.at(-1) ?? [0, 0], by[at + 1]?.[0]?.points[0], left, until);
  return { x, y, cutting: false, done: at + 1, begun: [] };
}

/** On the way to where the next contour begins, after so many seconds of all that there are until then. */
function between(
  from: readonly [number, number],
  to: readonly number[] | undefined,
  seconds: number,
  of: number,
): readonly [number, number] {
  if (!to || !Number.isFinite(of) || of <= 0) return from;
  const share = Math.min(1, seconds / of);
  const [dx, dy] = step(from, [to[0] ?? 0, to[1] ?? 0]);
  return [from[0] + share * dx, from[1] + share * dy];
}

/** The first share of a path's length. */
function first(points: readonly (readonly number[])[], share: number): [number, number][] {
  const all = points.map(([x = 0, y = 0]): [number, number] => [x, y]);
  if (share >= 1) return all;
  let left = share * all.reduce((sum, p, i) => sum + Math.hypot(...step(all[i - 1] ?? p, p)), 0);
  const kept: [number, number][] = [];
  for (const p of all) {
    const last = kept.at(-1) ?? p;
    const [dx, dy] = step(last, p);
    const length = Math.hypot(dx, dy);
    const part = length > 0 ? Math.min(1, left / length) : 1;
    kept.push([last[0] + part * dx, last[1] + part * dy]);
    if (part < 1) break;
    left -= length;
  }
  return kept;
}

const step = (a: readonly [number, number], b: readonly [number, number]): [number, number] => [
  b[0] - a[0],
  b[1] - a[1],
];
