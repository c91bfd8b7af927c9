/**
 * The kerf section's geometry: a cut seen end-on along the travel, in drawing units, from numbers.
 * Positive bevel: the bottom of the kept part sticks out into the kerf.
 */
export type DrossKind = 'low_speed' | 'high_speed' | 'top_spatter';

export interface SectionInput {
  thicknessMm: number;
  kerfMm: number;
  leftDeg: number | null;
  rightDeg: number | null;
}

export interface SectionFrame {
  width: number;
  top: number;
  plateHeight: number;
  margin: number;
  kerfTimes: number;
}

/** The large drawing and the thumbnail. */
export const LARGE = { width: 460, height: 330, top: 118, plateHeight: 128, margin: 10, kerfTimes: 2 };
export const THUMB = { width: 148, height: 66, top: 8, plateHeight: 40, margin: 2, kerfTimes: 3 };

export interface Edge {
  topX: number;
  bottomX: number;
  topY: number;
  bottomY: number;
  /** Direction from the kerf into the plate: -1 on the left, 1 on the right. */
  into: -1 | 1;
}

export const KERF_TIMES = 2;

const half = (input: SectionInput, frame: SectionFrame): number =>
  // A thin sheet's kerf would fill the drawing at one scale: hold it inside a third of the width.
  Math.min(
    (input.kerfMm * (frame.plateHeight / input.thicknessMm) * frame.kerfTimes) / 2,
    frame.width / 7,
  );

/** How far the bottom of an edge at that bevel lies into the kerf, with angles drawn `times` as large. */
export const reach = (deg: number, times: number, frame: SectionFrame): number =>
  Math.tan((Math.max(-40, Math.min(40, deg * times)) * Math.PI) / 180) * frame.plateHeight;

/** How many times too large the angles are drawn: as much as leaves the kerf open at the bottom. */
export function angleTimes(input: SectionInput, frame: SectionFrame): number {
  const top = 2 * half(input, frame);
  const open = (times: number) =>
    top - reach(input.leftDeg ?? 0, times, frame) - reach(input.rightDeg ?? 0, times, frame) >
    0.25 * top;
  return [4, 3, 2, 1.5].find(open) ?? 1;
}

export function edgeAt(
  side: 'left' | 'right',
  deg: number,
  input: SectionInput,
  frame: SectionFrame,
): Edge {
  const into = side === 'left' ? -1 : 1;
  const topX = frame.width / 2 + into * half(input, frame);
  return {
    topX,
    bottomX: topX - into * reach(deg, angleTimes(input, frame), frame),
    topY: frame.top,
    bottomY: frame.top + frame.plateHeight,
    into,
  };
}

export function platePath(edge: Edge, frame: SectionFrame): string {
  const outer = edge.into === -1 ? frame.margin : frame.width - frame.margin;
  return `M${outer} ${edge.topY}H${edge.topX}L${edge.bottomX} ${edge.bottomY}H${outer}Z`;
}

/** Low-speed dross: thick loose beads, larger and more with the effort they take. */
export function beads(
  edge: Edge,
  grade: number,
  unit: number,
): { cx: number; cy: number; rx: number; ry: number }[] {
  return Array.from({ length: grade * 2 + 1 }, (_, i) => {
    const r = Math.max(2, 8.5 - i * 0.9) * unit * (0.6 + 0.13 * grade);
    return {
      cx: edge.bottomX + edge.into * (3 + i * 11) * unit,
      cy: edge.bottomY + r * 0.65,
      rx: r,
      ry: r * 0.9,
    };
  });
}

/** High-speed dross: a thin hard saw-toothed bead welded along the corner. */
export function welded(edge: Edge, grade: number, unit: number): string {
  const teeth = 2 + grade * 2;
  const depth = (3 + grade * 1.6) * unit;
  const points = Array.from({ length: teeth }, (_, i) => {
    const x = edge.bottomX + edge.into * (i * 5 + 2.5) * unit;
    const next = edge.bottomX + edge.into * (i + 1) * 5 * unit;
    return `L${x} ${edge.bottomY + depth * (i % 2 ? 0.7 : 1)}L${next} ${edge.bottomY}`;
  });
  return `M${edge.bottomX} ${edge.bottomY}${points.join('')}Z`;
}
