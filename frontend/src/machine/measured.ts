import type { Schema } from '../kit/client';

export type Measures = Schema['MachineMeasuresFile'];
export type Judged = Schema['MachineJudged'];
export type Report = Schema['MachineReportFile'];
export type Kept = Schema['MeasuredAnswer'];

/** What is typed of one piece: its sizes by their name; null where nothing is read. */
export interface Typed {
  key: number;
  kind: 'rectangle' | 'slot' | 'hole';
  sizes: Readonly<Record<string, number | null>>;
  /** What they were read with, by its name; null: the first of the shop's. */
  tool: string | null;
}

/** What each kind of piece asks for: what is drawn first, then what is read. */
export const ASKED = {
  rectangle: [
    ['nominal_x', 'Drawn, X'],
    ['nominal_y', 'Drawn, Y'],
    ['x_mm', 'Measured, X'],
    ['y_mm', 'Measured, Y'],
    ['d1_mm', 'Diagonal A'],
    ['d2_mm', 'Diagonal B'],
  ],
  slot: [
    ['nominal', 'Drawn'],
    ['x_mm', 'Measured along X'],
    ['y_mm', 'Measured along Y'],
  ],
  hole: [
    ['nominal', 'Drawn diameter'],
    ['top_mm', 'At the top'],
    ['bottom_mm', 'At the bottom'],
    ['other_mm', 'Across the first'],
  ],
} as const;

interface Around {
  kerf: number | null;
  drives: number | null;
  thickness: number | null;
  /** One sigma of a piece's sizes; null while it is not known what they are read with. */
  u: (piece: Typed) => number | null;
}

/** The pieces as a file, those that are drawn and of which something is read; null where there is none. */
export function measuresOf(typed: readonly Typed[], around: Around): Measures | null {
  const pieces = typed.flatMap((t) => {
    const u = around.u(t);
    return u === null ? [] : (pieceOf(t, u) ?? []);
  });
  if (pieces.length === 0 || around.kerf === null) return null;
  return {
    format: 'orthotome.machine_measures',
    version: 1,
    kerf_compensated_mm: around.kerf,
    drive_distance_mm: around.drives,
    thickness_mm: around.thickness,
    pieces,
  };
}

function pieceOf({ kind, sizes: s }: Typed, u_mm: number): Measures['pieces'][number] | null {
  const at = (name: string) => s[name] ?? null;
  const read = ASKED[kind].some(([name]) => name.endsWith('_mm') && at(name) !== null);
  const drawn = at('nominal');
  if (!read) return null;
  if (kind === 'rectangle') {
    const [x, y] = [at('nominal_x'), at('nominal_y')];
    if (x === null || y === null) return null;
    const sides = { x_mm: at('x_mm'), y_mm: at('y_mm'), d1_mm: at('d1_mm'), d2_mm: at('d2_mm') };
    return { kind, nominal_mm: [x, y], ...sides, u_mm };
  }
  if (drawn === null) return null;
  if (kind === 'slot') return { kind, nominal_mm: drawn, x_mm: at('x_mm'), y_mm: at('y_mm'), u_mm };
  const across = { top_mm: at('top_mm'), bottom_mm: at('bottom_mm'), other_mm: at('other_mm') };
  return { kind, nominal_mm: drawn, ...across, u_mm };
}
