/** The part of the sheet that is shown: its near left corner and its size, in mm. */
export interface View {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Closer or farther by a factor, the place under the finger staying where it is. */
export function zoomed(view: View, factor: number, at: { x: number; y: number }): View {
  return {
    x: at.x - (at.x - view.x) * factor,
    y: at.y - (at.y - view.y) * factor,
    width: view.width * factor,
    height: view.height * factor,
  };
}

/** Moved by shares of what is shown. */
export const moved = (view: View, right: number, up: number): View => ({
  ...view,
  x: view.x + right * view.width,
  y: view.y + up * view.height,
});

/** All of it, with a margin. */
export function around(low: [number, number], high: [number, number]): View {
  const margin = 0.05 * Math.max(high[0] - low[0], high[1] - low[1], 1);
  return {
    x: low[0] - margin,
    y: low[1] - margin,
    width: high[0] - low[0] + 2 * margin,
    height: high[1] - low[1] + 2 * margin,
  };
}

type Points = readonly (readonly number[])[];

/** How far a place lies from a path. */
export function distance(points: Points, x: number, y: number): number {
  let best = Infinity;
  for (let i = 1; i < points.length; i += 1) {
    const [ax = 0, ay = 0] = points[i - 1] ?? [];
    const [bx = 0, by = 0] = points[i] ?? [];
    const dx = bx - ax;
    const dy = by - ay;
    const long = dx * dx + dy * dy;
    const share = long ? Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / long)) : 0;
    best = Math.min(best, Math.hypot(ax + share * dx - x, ay + share * dy - y));
  }
  return best;
}
