import type { Schema } from '../kit/client';

export type Kind = Schema['PieceAnswer']['kind'];

export const KINDS: { value: Kind; label: string; says: string }[] = [
  {
    value: 'square',
    label: 'Square',
    says: 'Four directions at one setting: it tells speed and height from a leaning jet, and can prove a setting. A bar of scrap comes loose with it: its near edge is the other side of the far cut.',
  },
  {
    value: 'strip_ladder',
    label: 'Speed strips',
    says: 'Speeds in one direction, slot 1 slowest: it finds the dross window. It proves nothing by itself.',
  },
  {
    value: 'height_ladder',
    label: 'Height strips',
    says: 'Heights at one speed, lowest first: bevel and volts against height at the same time.',
  },
  {
    value: 'pierce_ladder',
    label: 'Pierces',
    says: 'One delay a stub: take the shortest that is through every time.',
  },
  {
    value: 'start_end_ladder',
    label: 'Starts and ends',
    says: 'Small squares numbered with nicks, one thing different in each: lead-in, overrun, slowed end. Take the shortest that leaves no tab and no flat.',
  },
  {
    value: 'round',
    label: 'Round',
    says: 'A slug with a slit at its far right, cut first: bevel read round it gives the jet’s lean and its direction.',
  },
  {
    value: 'holes',
    label: 'Holes',
    says: 'From one thickness up, at half speed, entered on an arc: hole size, taper and the flat.',
  },
  {
    value: 'corner',
    label: 'Corners',
    says: 'Teeth of 90, 60 and 45 degrees and a zig-zag that grows shorter: from which length on the machine no longer comes to speed.',
  },
  {
    value: 'long_strip',
    label: 'Long strip',
    says: 'For a warped sheet: the one piece that tries height control. It is held over the short ends.',
  },
  {
    value: 'own_part',
    label: 'A part of your own',
    says: 'Its closed contours from a DXF or SVG drawing: kerf, leads, order and direction are added.',
  },
];
