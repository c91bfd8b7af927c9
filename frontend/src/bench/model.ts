/** What the Bench works with, as the server says it. */
import type { Bench, Cut, CutRequest, Schema, Trial } from '../kit/client';

export type { Bench, Cut, CutRequest, Trial };

export interface NextCut {
  speed_mm_min: number;
  cut_height_mm: number;
}

type Recommended = NonNullable<Bench['advice']['recommended']>;

/** What to cut now: the advised cut, else the recommended setting, else (handed off) the last one. */
export function nextCut(bench: Bench): NextCut & { why: string | null; volts: number | null } {
  const asked = bench.advice.next_cuts[0];
  const best: Recommended | null = bench.advice.recommended;
  const cut = asked ?? best ?? lastCut(bench) ?? bench.trial.start;
  const same = best?.speed_mm_min === cut.speed_mm_min && best.cut_height_mm === cut.cut_height_mm;
  const volts =
    best === null ? (lastCut(bench)?.arc_voltage_v ?? null) : same ? best.arc_voltage_v : null;
  return {
    speed_mm_min: cut.speed_mm_min,
    cut_height_mm: cut.cut_height_mm,
    why: asked?.why ?? null,
    volts,
  };
}

/** Cuts that count as evidence, in order. */
export const kept = (bench: Bench): Cut[] => bench.cuts.filter((c) => !c.struck_out);

export const lastCut = (bench: Bench): Cut | null => kept(bench).at(-1) ?? null;

/** Which side of a cut was read worst, on the sides that are judged: the ribbon's one figure. */
export function worstKept(cut: Cut, trial: Trial): number | null {
  const judged = cut.edges.filter((e) => trial.target.sides === 'both' || e.side === trial.good_side);
  if (judged.length === 0) return null;
  return judged.reduce((worst, e) => (Math.abs(e.bevel_deg) > Math.abs(worst) ? e.bevel_deg : worst), 0);
}

export const VERDICT: Record<Bench['advice']['status'], { mark: string; heading: string }> = {
  keep_cutting: { mark: '', heading: 'Cut this next' },
  confirm: { mark: '', heading: 'Cut this to prove it' },
  square: { mark: '■', heading: 'Square: lock it in' },
  hand_off: { mark: '▲', heading: 'Stop: not a matter of speed or height' },
};

export const CAUSE: Record<string, string> = {
  jet_lean: 'The jet leans',
  worn_parts: 'Worn or wrong parts',
  measurement_too_coarse: 'Readings too coarse',
  target_too_tight: 'Target too tight',
  outside_limits: 'Outside the limits',
  wrong_side: 'Good and bad side swapped',
  window_misses_square: 'Square and clean do not meet',
  height_uncertain: 'Height is a guess',
  gas_or_air: 'Gas or air',
};

export type Expected = Schema['ExpectedAdvice'];
