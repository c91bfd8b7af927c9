import type { ReactNode } from 'react';
import type { Schema } from '../kit/client';
import styles from './trouble.module.css';

type Complaint = Schema['ComplaintAnswer']['code'];

/** Each complaint as it is seen, 64 by 40: steel is filled, what is wrong is drawn in the colour of a limit. */
export function ComplaintPicture({ of }: { of: Complaint }) {
  return (
    <svg viewBox="0 0 64 40" width="64" height="40" aria-hidden="true" className={styles.picture}>
      {PICTURES[of]}
    </svg>
  );
}

const plate = <path data-steel d="M2 30H62V38H2Z" />;

/** The torch over a plate, its exit at x, y. */
const torch = (x: number, y: number) => <path data-torch d={`M${x - 5} ${y - 13}v7l3 6h4l3-6v-7`} />;

const bad = (d: string) => <path data-bad d={d} />;
const jet = (x: number, from: number, to: number) => <path data-jet d={`M${x} ${from}V${to}`} />;

/** A cut end-on: both kept edges, by how far their bottoms stand into the kerf. */
const section = (left: number, right: number, more?: ReactNode) => (
  <>
    <path data-steel d={`M2 10H26L${26 + left} 28H2Z`} />
    <path data-steel d={`M62 10H38L${38 - right} 28H62Z`} />
    {more}
  </>
);

/** A part from above with a hole in it. */
const withHole = (hole: ReactNode) => (
  <>
    <path data-steel d="M8 3H56V37H8Z" />
    {hole}
  </>
);

/** A part as it was drawn, dashed, and as it came. */
const drawn = (d: string, came: string) => (
  <>
    <path data-steel d={came} />
    <path data-drawn d={d} />
  </>
);

const beads = (x: number) =>
  [0, 5, 10].map((dx) => <circle key={dx} data-bad cx={x + dx} cy={31} r={2.6} />);

// Drawn by eye: a line each.
// oxfmt-ignore
const PICTURES: Record<Complaint, ReactNode> = {
  flies_up_at_start: <>{plate}{torch(14, 22)}{bad('M22 20C28 18 30 8 34 4M34 4l-6 1M34 4l1 6')}</>,
  dives_at_start: <>{plate}{torch(14, 20)}{bad('M22 12C28 14 30 24 32 29M32 29l-5-3M32 29l3-5')}</>,
  dives_in_corners: <>{bad('M6 10H46V36M46 10l-4 6M46 10l-7-3')}<circle data-bad cx={46} cy={10} r={5} /></>,
  climbs_along_cut: <>{plate}{torch(10, 24)}{bad('M18 24L56 8M56 8l-7 0M56 8l-4 6')}</>,
  dives_along_cut: <>{plate}{torch(10, 16)}{bad('M18 12L56 28M56 28l-4-6M56 28l-7 1')}</>,
  holes_fine_outside_bad: withHole(<><circle data-open cx={32} cy={20} r={8} />{bad('M8 3q4 3 0 6t0 6t0 6t0 6t0 6t0 4')}</>),
  bevel_one_side: section(0, 7, bad('M38 10L31 28')),
  bevel_one_direction: <><path data-steel d="M12 6H52V34H12Z" />{bad('M52 6V34M56 14h6M56 20h6M56 26h6')}</>,
  bevel_all_round: section(6, 6, bad('M26 10L32 28M38 10L32 28')),
  dross_brushes_off: section(0, 0, <>{beads(8)}{beads(44)}</>),
  dross_needs_grinding: section(0, 0, bad('M10 28l3 6l3-6l3 6l3-6l3 6l1-6M38 28l1 6l3-6l3 6l3-6l3 6l3-6')),
  top_spatter: section(0, 0, <>{[16, 21, 25, 40, 45, 50].map((x, i) => <circle key={x} data-bad cx={x} cy={8 - (i % 2) * 3} r={1.8} />)}</>),
  not_through_at_start: <><path data-steel d="M2 12H62V32H2Z" />{bad('M8 12V22H18V32')}<path data-open d="M18 12V32H58V12Z" /></>,
  not_through_anywhere: <><path data-steel d="M2 10H62V32H2Z" /><path data-open d="M27 10V23q5 5 10 0V10Z" />{bad('M27 28H37')}</>,
  tab_at_end: <><path data-steel d="M4 4H60V36H4Z" /><path data-drawn d="M32 9a11 11 0 1 1-4 0.8" />{bad('M27 10l5-1')}</>,
  corner_tip_uncut: <><path data-steel d="M4 4H60V36H4Z" /><path data-open d="M14 36V14H44" />{bad('M10 14h4V10')}</>,
  slug_stays_in_hole: withHole(<><circle data-drawn cx={32} cy={20} r={10} />{bad('M41 16q3 4 0 8')}</>),
  hole_oval: withHole(<><circle data-drawn cx={32} cy={20} r={10} /><ellipse data-bad cx={32} cy={20} rx={14} ry={9} /></>),
  hole_tapered: section(6, 6, bad('M22 10H42M32 28h0.5')),
  hole_flat: withHole(<><path data-open d="M24 13a11 11 0 1 0 16 0Z" />{bad('M24 13H40')}</>),
  part_too_small: drawn('M10 4H54V36H10Z', 'M15 8H49V32H15Z'),
  part_too_large: drawn('M15 8H49V32H15Z', 'M10 4H54V36H10Z'),
  part_out_of_square: <><path data-steel d="M12 6H48L54 34H18Z" />{bad('M12 6L54 34M48 6L18 34')}</>,
  part_in_wrong_place: <><path data-drawn d="M4 4H60V36H4Z" /><path data-steel d="M40 20H64V40H40Z" />{bad('M16 12L34 24M34 24l-6-1M34 24l-3-6')}</>,
  wavy_edge: <><path data-steel d="M4 36V16q4-5 8 0t8 0t8 0t8 0t8 0t8 0t8 0V36Z" />{bad('M4 16q4-5 8 0t8 0t8 0t8 0t8 0t8 0t8 0')}</>,
  arc_goes_out: <>{plate}{torch(32, 15)}{jet(32, 16, 20)}{bad('M26 24l4-3M38 24l-4-3M32 27v-4')}</>,
  will_not_start: <>{plate}{torch(32, 18)}{bad('M26 21L38 29M38 21L26 29')}</>,
  waits_after_touch: <>{plate}{torch(24, 29)}{[40, 47, 54].map((x) => <circle key={x} data-bad cx={x} cy={20} r={2} />)}</>,
  scar_at_start_or_end: <><path data-steel d="M4 16H28q2 8 5 0H60V36H4Z" />{bad('M28 16q2 8 5 0M30 4V12M30 12l-3-4M30 12l3-4')}</>,
  edge_too_hard: <><path data-steel d="M4 10H60V36H4Z" />{bad('M4 10H60M4 13H60M4 16H60M32 2v7M28 5l4 4l4-4')}</>,
  parts_die_early: <><path data-torch d="M22 4H42V26L36 36H28L22 26Z" />{bad('M29 36V24h6V36')}</>,
  nozzle_oval: <><circle data-torch cx={32} cy={20} r={16} /><ellipse data-bad cx={33} cy={20} rx={7.5} ry={4} /></>,
  shield_spattered: <><circle data-torch cx={32} cy={20} r={16} /><circle data-torch cx={32} cy={20} r={4} />{[[24, 12], [40, 14], [22, 24], [38, 28], [30, 31], [43, 21]].map(([x, y]) => <circle key={x} data-bad cx={x} cy={y} r={2.2} />)}</>,
  steps_lost: <>{<path data-drawn d="M4 10H60" />}{bad('M4 10H26V20H42V28H60')}</>,
  axis_wrong_way: <>{<path data-drawn d="M32 14H58M58 14l-6-4M58 14l-6 4" />}{bad('M32 26H6M6 26l6-4M6 26l6 4')}</>,
  readout_absurd: <><path data-torch d="M6 8H58V32H6Z" /><text data-bad x={32} y={26} textAnchor="middle" fontSize={17}>4200 V</text></>,
  switches_trip: <><path data-torch d="M6 28H22L38 14M44 28H60" />{bad('M50 4l-6 9h7l-5 8')}</>,
  torch_knocked_off: <>{plate}<g transform="rotate(34 32 26)">{torch(32, 22)}</g>{bad('M12 8L22 14M10 16H20')}</>,
  touch_off_fails: <>{plate}{torch(32, 20)}{bad('M32 22V29M18 14V27M18 27l-3-4M18 27l3-4M46 14V27M46 27l-3-4M46 27l3-4')}</>,
};
