/** The path of a piece as it is played, without React: where the torch is when, and what is drawn. */
import type { Schema } from '../kit/client';

export type Played = Schema['PlayedAnswer'];
export type PlayedContour = Schema['PlayedContour'];
type Sample = Schema['SampleModel'];

export interface Moment {
  x: number;
  y: number;
  speed_mm_min: number;
  contour: number;
  burning: boolean;
}

export interface Stroke {
  points: string;
  slow: boolean;
  lead: boolean;
}

const last = <T>(list: T[]): T => list[list.length - 1] as T;

/** Where the torch is at a time: between two samples, on the straight between them. */
export function momentAt(played: Played, at_s: number): Moment {
  const next = played.contours.findIndex((c) => last(c.samples).at_s >= at_s);
  const contour = next === -1 ? played.contours.length - 1 : next;
  const samples = played.contours[contour]?.samples ?? [];
  const first = samples[0];
  const after = samples.findIndex((s) => s.at_s >= at_s);
  if (first && after === 0 && contour > 0) {
    // On the way from one contour to the next.
    const from = last(played.contours[contour - 1]?.samples ?? []);
    return { ...between(from, first, at_s), contour, burning: false };
  }
  const b = after === -1 ? last(samples) : (samples[after] as Sample);
  const a = samples[Math.max(0, samples.indexOf(b) - 1)] ?? b;
  return { ...between(a, b, at_s), contour, burning: at_s < last(samples).at_s };
}

function between(a: Sample, b: Sample, at_s: number): Omit<Moment, 'contour' | 'burning'> {
  const span = b.at_s - a.at_s;
  const share = span > 0 ? Math.min(1, Math.max(0, (at_s - a.at_s) / span)) : 1;
  const mix = (from: number, to: number) => from + share * (to - from);
  return {
    x: mix(a.x_mm, b.x_mm),
    y: mix(a.y_mm, b.y_mm),
    speed_mm_min: mix(a.speed_mm_min, b.speed_mm_min),
  };
}

const isLead = (s: Sample): boolean => s.kind === 'lead_in' || s.kind === 'overrun';
const said = (s: Sample): string => `${s.x_mm},${s.y_mm}`;

/** A contour as lines to draw, parted where it comes to speed or a lead begins or ends. */
export function strokesOf(contour: PlayedContour): Stroke[] {
  const strokes: Stroke[] = [];
  let before: Sample | undefined;
  for (const s of contour.samples) {
    const now = strokes[strokes.length - 1];
    if (before && now && now.slow === s.slow && now.lead === isLead(s)) now.points += ` ${said(s)}`;
    else if (before)
      strokes.push({ points: `${said(before)} ${said(s)}`, slow: s.slow, lead: isLead(s) });
    before = s;
  }
  return strokes;
}

/** What is cut by a time, one line a contour. */
export function cutBy(played: Played, at_s: number): string[] {
  const here = momentAt(played, at_s);
  return played.contours.slice(0, here.contour + 1).map((c) => {
    const done = c.samples.filter((s) => s.at_s <= at_s).map(said);
    const begun = c.samples[0] && c.samples[0].at_s <= at_s;
    const going = begun && last(c.samples).at_s > at_s;
    return (going ? [...done, `${here.x},${here.y}`] : done).join(' ');
  });
}

/** When each contour's pierce begins. */
export const begins = (played: Played): number[] => played.contours.map((c) => c.samples[0]?.at_s ?? 0);

export interface Tag {
  x: number;
  y: number;
  /** A piece's number, or what sets a slot apart from its neighbours. */
  said: { number: string } | { speed_mm_min: number } | { cut_height_mm: number } | { delay_s: number };
}

/** What to write on the drawing: the number on each piece, or what is stepped from slot to slot. */
export function tagsOf(played: Played): Tag[] {
  const slots = played.contours.filter((c) => /^(slot|stub) /.test(c.name));
  const differs = (of: (c: PlayedContour) => number) => new Set(slots.map(of)).size > 1;
  const stepped = (c: PlayedContour): Tag['said'] =>
    differs((s) => s.speed_mm_min)
      ? { speed_mm_min: c.speed_mm_min }
      : differs((s) => s.cut_height_mm)
        ? { cut_height_mm: c.cut_height_mm }
        : { delay_s: c.pierce_delay_s };
  const numbered = played.contours.flatMap((c) => {
    return c.number !== null && !c.inside
      ? [{ ...middleOf(c), said: { number: String(c.number) } }]
      : [];
  });
  return [
    ...numbered,
    ...slots.flatMap((c) => {
      const end = c.samples[0];
      return end ? [{ x: end.x_mm, y: end.y_mm, said: stepped(c) }] : [];
    }),
  ];
}

function middleOf(contour: PlayedContour): { x: number; y: number } {
  const cut = contour.samples.filter((s) => !isLead(s));
  const middle = (values: number[]) => (Math.min(...values) + Math.max(...values)) / 2;
  return { x: middle(cut.map((s) => s.x_mm)), y: middle(cut.map((s) => s.y_mm)) };
}
