/** What the Bench works with, as the server says it. */
import type { Bench, Cut, Schema, Trial } from '../kit/client';

export type { Bench, Cut, Trial };

/** Cuts that count as evidence, in order. */
export const kept = (bench: Bench): Cut[] => bench.cuts.filter((c) => !c.struck_out);

export const lastCut = (bench: Bench): Cut | null => kept(bench).at(-1) ?? null;

export type Expected = Schema['ExpectedAdvice'];

/** The shape beside a verdict, so that it is never told by colour or word alone. */
export const STATUS_MARK: Record<Bench['advice']['status'], string> = {
  keep_cutting: '',
  confirm: '',
  square: '■ ',
  hand_off: '▲ ',
};
