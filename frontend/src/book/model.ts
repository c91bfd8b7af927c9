import type { Recipe } from '../kit/client';

/** The last cut that passed with a recipe's setting, as the kerf section wants it. */
export function provenCut(r: Recipe) {
  const { proof, evidence, torch_set } = r.recipe;
  const cut = evidence.cuts.findLast((c) => proof.passed_cuts.includes(c.id));
  if (!cut) return null;
  const mean = (side: 'left' | 'right'): number | null => {
    const read = (cut.edges ?? []).filter((e) => e.side === side).map((e) => e.bevel_deg);
    return read.length === 0 ? null : read.reduce((a, b) => a + b, 0) / read.length;
  };
  const goodSide = torch_set.swirl === 'counter_clockwise' ? ('left' as const) : ('right' as const);
  return { left: mean('left'), right: mean('right'), goodSide, dross: cut.dross ?? null };
}
