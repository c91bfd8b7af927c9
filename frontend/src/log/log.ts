/**
 * A log in the making, without React: the sheet's slots, and what was said of the cut so far. What fingers do to it
 * is in typing.ts, what the server gets of it in sending.ts.
 */
import type { Cut, CutRequest, Schema, Trial } from '../kit/client';
import type { ShopUnits } from '../kit/units';

export type Sheet = Schema['LogSheet'];
export type Slot = Sheet['slots'][number];
export type DrossChoice = Sheet['dross'][number];
export type Correction = Schema['CutCorrection'];
export type Kind = NonNullable<DrossChoice['kind']>;

export type Method = Sheet['methods'][number];
export type LookFor = Sheet['looks_whole'][number];
export type Item = Sheet['items'][number];

export interface Entry {
  digits: string;
  negative: boolean;
  /** Typed with a point, as a gauge on a cable does: it ends with Enter, not with its second digit. */
  typed?: string;
  /** What it was read with; left out, what the slot was read with before. */
  by?: { method: string; u_deg: number };
  /** Worked out from lengths, or measured on a photo: then this is the reading, and what was typed of it. */
  worked?: { bevel_deg: number; told: string };
}

export interface Seen {
  value?: string | undefined;
  number?: number | undefined;
}

/** What was seen of a slot of a ladder: the answer tapped, and its volts. */
export interface Strip {
  answer?: string;
  volts?: number | null;
}

/** The grade of each kind that was found underneath; empty is "looked, and clean". */
export type Dross = Partial<Record<Kind, number>>;

/** What is said of a cut on the sheet, apart from how it is being typed. */
export interface Said {
  height_control: CutRequest['height_control'];
  speed_mm_min: number;
  cut_height_mm: number;
  through: 'full' | 'partial' | 'none' | null;
  edges: Record<string, Entry>;
  volts: string;
  dross: Dross | null;
  spatter: boolean;
  arc_lost: boolean;
  set_point_v: number | null;
  kerf_mm: number | null;
  lag_deg: number | null;
  note: string;
  /** By item and what was looked at: see `lookKey`. */
  looks: Record<string, Seen>;
  strips: Record<number, Strip>;
}

export interface Log extends Said {
  key: string;
  cutId: number | null;
  version: number | null;
  /** On the piece, where it waited to be read. */
  number: number | null;
  sheet: Sheet;
  /** What a correction began with. */
  was: Said | null;
  at: string;
  negative: boolean;
  /** The name of what is in the hand to measure with; null: the first of the sheet's. */
  method: string | null;
  /** The edge before this one was just filled by its last digit: an Enter or a point after it is that one's. */
  filled: boolean;
  /** The reading at hand was typed into since it was gone to: until then, typing takes the place of what stands. */
  begun: boolean;
  /** Questions that the operator answered with "it is right", by reading and value. */
  insisted: string[];
  /** Fields whose doubtful number the operator insists on, with that number. */
  right: string[];
}

export const VOLTS = 'volts';
export const BOTTOM = ['low_speed', 'high_speed'] as const;

export function newLog(
  sheet: Sheet,
  next: { speed_mm_min: number; cut_height_mm: number },
  trial: Trial,
  through: Log['through'],
): Log {
  return {
    key: crypto.randomUUID(),
    cutId: null,
    version: null,
    number: null,
    sheet,
    was: null,
    height_control: trial.height_by_hand ? 'by_hand' : 'off',
    speed_mm_min: next.speed_mm_min,
    cut_height_mm: next.cut_height_mm,
    through,
    edges: {},
    volts: '',
    dross: null,
    spatter: false,
    arc_lost: false,
    set_point_v: null,
    kerf_mm: null,
    lag_deg: null,
    at: sheet.order[0] ?? VOLTS,
    negative: false,
    method: null,
    filled: false,
    begun: false,
    insisted: [],
    right: [],
    note: '',
    looks: {},
    strips: {},
  };
}

/** What a sheet was opened with of looks. */
function looksSeen(sheet: Sheet): Record<string, Seen> {
  const seen: Record<string, Seen> = {};
  for (const k of sheet.looks)
    seen[lookKey(k.item, k.what)] = { value: k.value ?? undefined, number: k.number ?? undefined };
  return seen;
}

export const lookKey = (item: number, what: string): string => `${item} ${what}`;

/** What there is in the hand to measure with. */
export const methodOf = (log: Log): Method | undefined =>
  log.sheet.methods.find((m) => m.name === log.method) ?? log.sheet.methods[0];

/** A cut from the simulated table, as a log to look over and save. */
export function simulatedLog(cut: CutRequest, sheet: Sheet, trial: Trial): Log {
  const log = newLog(sheet, cut, trial, cut.through ?? null);
  const edges: Record<string, Entry> = {};
  for (const e of cut.edges) {
    const slot = sheet.slots.find((s) => s.side === e.side && s.heading_deg === e.heading_deg);
    if (slot) edges[slot.key] = entryOf(e.bevel_deg);
  }
  return { ...log, ...seen(cut), height_control: cut.height_control, edges };
}

/** A logged cut on its sheet, to correct. */
export function correctionLog(cut: Cut, sheet: Sheet, trial: Trial): Log {
  const log = newLog(sheet, cut, trial, cut.through);
  const edges = Object.fromEntries(
    sheet.slots.flatMap((s) =>
      s.bevel_deg === null || s.bevel_deg === undefined ? [] : [[s.key, entryOf(s.bevel_deg)]],
    ),
  );
  const was: Said = {
    height_control: cut.height_control,
    speed_mm_min: cut.speed_mm_min,
    cut_height_mm: cut.cut_height_mm,
    through: cut.through,
    ...seen(cut),
    edges,
    looks: looksSeen(sheet),
    strips: {},
  };
  return { ...log, ...was, cutId: cut.id, version: cut.version, was };
}

type OnCut = Pick<
  Cut | CutRequest,
  'arc_voltage_v' | 'dross' | 'note' | 'arc_lost' | 'set_point_v' | 'kerf_mm' | 'lag_deg'
>;

export function seen(
  cut: OnCut,
): Pick<
  Said,
  'volts' | 'dross' | 'spatter' | 'note' | 'arc_lost' | 'set_point_v' | 'kerf_mm' | 'lag_deg'
> {
  const volts = cut.arc_voltage_v ?? null;
  const bottom = (cut.dross ?? []).filter((d) => d.kind !== 'top_spatter' && d.grade > 0);
  return {
    volts: volts === null ? '' : String(volts),
    dross: cut.dross ? Object.fromEntries(bottom.map((d) => [d.kind, d.grade])) : null,
    spatter: cut.dross?.some((d) => d.kind === 'top_spatter' && d.grade > 0) ?? false,
    arc_lost: cut.arc_lost,
    set_point_v: cut.set_point_v ?? null,
    kerf_mm: cut.kerf_mm ?? null,
    lag_deg: cut.lag_deg ?? null,
    note: cut.note,
  };
}

function entryOf(bevel: number): Entry {
  const digits = String(Math.round(Math.abs(bevel) * 10)).padStart(2, '0');
  return { digits, negative: bevel < 0 };
}

export function bevelOf(entry: Entry | undefined): number | null {
  if (!entry) return null;
  if (entry.worked) return entry.worked.bevel_deg;
  const sign = entry.negative ? -1 : 1;
  if (entry.typed !== undefined) return /\d/.test(entry.typed) ? sign * Number(entry.typed) : null;
  if (entry.digits === '') return null;
  // One digit alone is whole degrees: nobody reads a gauge to 0.3 and leaves the nought out.
  return sign * (entry.digits.length === 1 ? Number(entry.digits) : Number(entry.digits) / 10);
}

/** A reading gone to: what is typed next takes the place of what stands there. */
export const goTo = (log: Log, at: string): Log =>
  log.at === at ? log : { ...log, at, filled: false, begun: false };

/** Whether there is anything to keep: a log that was erased again is none. */
export const anythingTyped = (log: Log): boolean =>
  Object.values(log.edges).some((e) => bevelOf(e) !== null || e.digits !== '') ||
  Object.keys(log.looks).length > 0 ||
  Object.keys(log.strips).length > 0 ||
  log.volts !== '' ||
  log.dross !== null ||
  log.spatter ||
  log.arc_lost ||
  log.kerf_mm !== null ||
  log.lag_deg !== null ||
  log.note !== '';

export const isComb = (log: Log): boolean =>
  log.sheet.kind === 'strip_ladder' || log.sheet.kind === 'height_ladder';

/** What the reading at hand is called. */
export function labelOf(log: Log): string {
  if (log.at === VOLTS) return 'Arc voltage seen, steady';
  return log.sheet.slots.find((s) => s.key === log.at)?.label ?? '';
}

/** A log on its sheet, and how it is changed. */
export interface Changing {
  log: Log;
  units: ShopUnits;
  change: (to: Log) => void;
  /** Of the log as it is when it is done, whatever was typed meanwhile. */
  update: (to: (now: Log) => Log) => void;
}
