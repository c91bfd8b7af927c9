/** What the Bench works with, as the server says it. */
import type { Bench, Cut, Schema, Trial } from '../kit/client';
import type { ShopUnits } from '../kit/units';

export type { Bench, Cut, Trial };

/** Cuts that count as evidence, in order. */
export const kept = (bench: Bench): Cut[] => bench.cuts.filter((c) => !c.struck_out);

/** The last cut that says something of speed and height: a ladder of pierces shows no edge. */
export const lastCut = (bench: Bench): Cut | null => bench.cuts.filter((c) => c.counts).at(-1) ?? null;

/** A reading that more likely than not is off by degrees: kept, weighed down, and struck through where drawn. */
export const isWild = (edge: Cut['edges'][number]): boolean => (edge.wild ?? 0) > 0.5;

export type Expected = Schema['ExpectedAdvice'];

export type Setting = Schema['Setting'];
export type WhatIf = Schema['WhatIf'];
export type Curve = Schema['Curve'];

/** The steps that a shop dials in, as kept units: its own round figures, not converted ones. */
export function steps(at: Setting, units: ShopUnits): Setting {
  return {
    speed_mm_min: units.speed_unit === 'in/min' ? 25.4 : at.speed_mm_min >= 1000 ? 10 : 5,
    cut_height_mm: units.length_unit === 'mm' ? 0.05 : 0.0508,
  };
}

/** How many of them one press of a button goes: about two per cent of speed, one step of height. */
export const pressed = (units: ShopUnits): { speed: number; height: number } => ({
  speed: units.speed_unit === 'in/min' ? 2 : 5,
  height: 1,
});

/** The nearest setting on those steps, within the limits. */
export function dialled(at: Setting, units: ShopUnits, limits: Trial['limits']): Setting {
  const step = steps(at, units);
  const on = (value: number, by: number, [low, high]: readonly number[]) =>
    Number(Math.min(Math.max(Math.round(value / by) * by, low ?? value), high ?? value).toFixed(4));
  return {
    speed_mm_min: on(at.speed_mm_min, step.speed_mm_min, limits.speed_mm_min),
    cut_height_mm: on(at.cut_height_mm, step.cut_height_mm, limits.cut_height_mm),
  };
}

/** The shape beside a verdict, so that it is never told by colour or word alone. */
export const STATUS_MARK: Record<Bench['advice']['status'], string> = {
  keep_cutting: '',
  confirm: '',
  square: '■ ',
  hand_off: '▲ ',
};
