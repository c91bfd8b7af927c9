/**
 * A log in the making, without React: which edges a square asks for, and what the keypad does to it.
 * Two digits fill an edge (2 4 is 2.4 degrees) and the next edge is at hand.
 */
import type { Cut, CutRequest, NextCut, Trial } from './model';

export interface EdgeSlot {
  side: 'left' | 'right';
  heading: number;
  kept: boolean;
}

export interface Entry {
  digits: string;
  negative: boolean;
}

export type DrossAnswer = 'none' | { kind: 'low_speed' | 'high_speed'; grade: 1 | 2 | 3 | 4 };

export interface Log {
  key: string;
  cutId: number | null;
  version: number | null;
  /** On the piece, where it waited to be read. */
  number: number | null;
  piece: CutRequest['piece'];
  height_control: CutRequest['height_control'];
  speed_mm_min: number;
  cut_height_mm: number;
  through: 'full' | 'partial' | 'none' | null;
  edges: Record<string, Entry>;
  u_deg: number;
  volts: string;
  dross: DrossAnswer | null;
  spatter: boolean;
  at: string;
  negative: boolean;
  note: string;
}

export const VOLTS = 'volts';

/** The four kept edges of a square, then one scrap edge, which tells process from swirl. */
export function slots(trial: Trial): EdgeSlot[] {
  const kept = trial.good_side;
  const scrap = kept === 'right' ? 'left' : 'right';
  return [
    ...[0, 90, 180, 270].map((heading) => ({ side: kept, heading, kept: true })),
    { side: scrap, heading: trial.scrap_heading_deg, kept: false },
  ];
}

/** The order of reading: what the advice needs most comes first, the scrap edge last. */
function reading(trial: Trial): string[] {
  const all = slots(trial);
  const ids = (kept: boolean) => all.filter((s) => s.kept === kept).map(slotId);
  return [...ids(true), VOLTS, ...ids(false)];
}

export const slotId = (s: { side: string; heading: number }): string => `${s.side} ${s.heading}`;

export function newLog(
  next: Pick<NextCut, 'speed_mm_min' | 'cut_height_mm'>,
  trial: Trial,
  u_deg: number,
  through: Log['through'],
): Log {
  const first = slots(trial)[0];
  return {
    key: crypto.randomUUID(),
    cutId: null,
    version: null,
    number: null,
    piece: 'square',
    height_control: trial.height_by_hand ? 'by_hand' : 'off',
    speed_mm_min: next.speed_mm_min,
    cut_height_mm: next.cut_height_mm,
    through,
    edges: {},
    u_deg,
    volts: '',
    dross: null,
    spatter: false,
    at: first ? slotId(first) : VOLTS,
    negative: false,
    note: '',
  };
}

/** A logged cut, or one from the simulated table, as a log to look over and correct. */
export function logOf(cut: Cut | CutRequest, trial: Trial, u_deg: number): Log {
  const log = newLog(cut, trial, u_deg, cut.through ?? null);
  const bottom = cut.dross?.find((d) => d.kind !== 'top_spatter');
  return {
    ...log,
    cutId: 'id' in cut ? cut.id : null,
    version: 'version' in cut ? cut.version : null,
    piece: cut.piece,
    height_control: cut.height_control as CutRequest['height_control'],
    edges: Object.fromEntries(
      cut.edges.map((e) => [
        slotId({ side: e.side, heading: e.heading_deg }),
        {
          digits: String(Math.round(Math.abs(e.bevel_deg) * 10)).padStart(2, '0'),
          negative: e.bevel_deg < 0,
        },
      ]),
    ),
    volts:
      cut.arc_voltage_v === null || cut.arc_voltage_v === undefined ? '' : String(cut.arc_voltage_v),
    dross: !cut.dross
      ? null
      : bottom && bottom.grade > 0
        ? ({ kind: bottom.kind, grade: bottom.grade } as DrossAnswer)
        : 'none',
    spatter: cut.dross?.some((d) => d.kind === 'top_spatter') ?? false,
    note: cut.note,
  };
}

export const bevelOf = (entry: Entry | undefined): number | null =>
  entry && entry.digits !== '' ? ((entry.negative ? -1 : 1) * Number(entry.digits)) / 10 : null;

function after(log: Log, trial: Trial): string {
  const order = reading(trial);
  return order[order.indexOf(log.at) + 1] ?? log.at;
}

/** A digit: an edge is full at two, volts at four (1276 is 127.6). */
export function digit(log: Log, trial: Trial, d: string): Log {
  if (log.at === VOLTS) {
    const typed = log.volts.replace('.', '');
    const next = typed.length >= 4 ? d : typed + d;
    const full = next.length === 4;
    return {
      ...log,
      volts: full ? `${next.slice(0, 3)}.${next.slice(3)}` : next,
      at: full ? after(log, trial) : log.at,
    };
  }
  const before = log.edges[log.at];
  const fresh = !before || before.digits.length >= 2;
  const digits = fresh ? d : before.digits + d;
  const negative = fresh ? log.negative : before.negative;
  const edges = { ...log.edges, [log.at]: { digits, negative } };
  return { ...log, edges, at: digits.length === 2 ? after(log, trial) : log.at };
}

/** Ten degrees and more: the third digit belongs to the edge just left. */
export function tenfold(log: Log, trial: Trial): Log {
  const order = reading(trial);
  const at = order[order.indexOf(log.at) - 1] ?? log.at;
  const entry = log.edges[at];
  return entry?.digits.length === 2
    ? { ...log, at, edges: { ...log.edges, [at]: { ...entry, digits: `${entry.digits}0` } } }
    : log;
}

/** Says which way the edges lean from here on, and turns the edge at hand if it has digits. */
export function sign(log: Log, negative: boolean): Log {
  const entry = log.edges[log.at];
  const edges = entry ? { ...log.edges, [log.at]: { ...entry, negative } } : log.edges;
  return { ...log, negative, edges };
}

export function erase(log: Log): Log {
  if (log.at === VOLTS) return { ...log, volts: '' };
  return {
    ...log,
    edges: Object.fromEntries(Object.entries(log.edges).filter(([id]) => id !== log.at)),
  };
}

export const next = (log: Log, trial: Trial): Log => ({ ...log, at: after(log, trial) });

export const anythingTyped = (log: Log): boolean =>
  Object.keys(log.edges).length > 0 || log.volts !== '' || log.dross !== null;

/** The log as the server takes it; what was not typed is left out, never zero. */
export function requestOf(log: Log, trial: Trial, by: string): CutRequest {
  const volts = Number(log.volts);
  const edges = slots(trial).flatMap((s) => {
    const bevel = bevelOf(log.edges[slotId(s)]);
    return bevel === null
      ? []
      : [
          {
            side: s.side,
            heading_deg: s.heading,
            bevel_deg: bevel,
            u_deg: log.u_deg,
            method: 'angle_gauge',
          },
        ];
  });
  const bottom = log.dross === null || log.dross === 'none' ? [] : [log.dross];
  const spatter = log.spatter ? [{ kind: 'top_spatter' as const, grade: 1 }] : [];
  return {
    piece: log.piece,
    speed_mm_min: log.speed_mm_min,
    cut_height_mm: log.cut_height_mm,
    arc_voltage_v: log.volts === '' ? null : volts,
    through: log.through,
    edges,
    dross: log.dross === null ? null : [...bottom, ...spatter],
    note: log.note,
    by,
    height_control: log.height_control,
    arc_lost: false,
  };
}
