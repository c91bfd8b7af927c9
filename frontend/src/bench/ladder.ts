import type { Schema } from '../kit/client';

/** What a strip of the coarse ladder looks like from below, in one tap. */
export const LADDER_ANSWERS = [
  { value: 'not_through', label: 'Not through', says: 'far too fast' },
  { value: 'bead', label: 'Hard bead', says: 'ran fast' },
  { value: 'clean', label: 'Clean', says: 'or brushes off' },
  { value: 'chunks', label: 'Chunks', says: 'ran slow' },
] as const;

export type LadderAnswer = (typeof LADDER_ANSWERS)[number]['value'];

type NewCut = Schema['NewCutRequest'];

const DROSS: Record<LadderAnswer, NewCut['dross']> = {
  not_through: null,
  bead: [{ kind: 'high_speed', grade: 3 }],
  clean: [],
  chunks: [{ kind: 'low_speed', grade: 2 }],
};

/** The strips that were looked at, as cuts to log; the rest are unknown and left out. */
export function ladderCuts(
  speeds: readonly number[],
  seen: Readonly<Record<number, LadderAnswer>>,
  cut_height_mm: number,
  key: string,
  by: string,
  byHand: boolean,
): NewCut[] {
  return speeds.flatMap((speed_mm_min, i) => {
    const answer = seen[i];
    if (answer === undefined) return [];
    return [
      {
        key: `${key} ${i + 1}`,
        piece: 'strip' as const,
        speed_mm_min,
        cut_height_mm,
        through: answer === 'not_through' ? ('none' as const) : ('full' as const),
        edges: [],
        dross: DROSS[answer] ?? null,
        note: `slot ${i + 1} of the coarse ladder`,
        by,
        height_control: byHand ? ('by_hand' as const) : ('off' as const),
        arc_lost: false,
      },
    ];
  });
}
