/**
 * A log in the making, without React: the sheet's slots, and what the keypad does to them.
 * Two digits fill an edge (2 4 is 2.4 degrees) and the next edge is at hand. A correction says only
 * what was changed; what was not touched is not sent.
 */
import type { Cut, CutRequest, Schema, Trial } from '../kit/client';

export type Sheet = Schema['LogSheet'];
export type Slot = Sheet['slots'][number];
export type DrossChoice = Sheet['dross'][number];
export type Correction = Schema['CutCorrection'];
type Kind = NonNullable<DrossChoice['kind']>;

export interface Entry {
  digits: string;
  negative: boolean;
}

export interface Dross {
  kind: Kind | null;
  grade: number;
}

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
  note: string;
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
}

export const VOLTS = 'volts';
const CLEAN: Dross = { kind: null, grade: 0 };

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
    at: sheet.order[0] ?? VOLTS,
    negative: false,
    note: '',
  };
}

/** A cut from the simulated table, as a log to look over and save. */
export function simulatedLog(cut: CutRequest, sheet: Sheet, trial: Trial): Log {
  const log = newLog(sheet, cut, trial, cut.through ?? null);
  const edges: Record<string, Entry> = {};
  for (const e of cut.edges) {
    const slot = sheet.slots.find((s) => s.side === e.side && s.heading_deg === e.heading_deg);
    if (slot) edges[slot.key] = entryOf(e.bevel_deg);
  }
  return { ...log, ...seen(cut), edges };
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
  };
  return { ...log, ...was, cutId: cut.id, version: cut.version, was };
}

type Seen = Pick<Cut | CutRequest, 'arc_voltage_v' | 'dross' | 'note'>;

function seen(cut: Seen): Pick<Said, 'volts' | 'dross' | 'spatter' | 'note'> {
  const volts = cut.arc_voltage_v ?? null;
  const bottom = (cut.dross ?? []).filter((d) => d.kind !== 'top_spatter' && d.grade > 0);
  const worst = bottom.reduce<Dross>((a, b) => (b.grade > a.grade ? b : a), CLEAN);
  return {
    volts: volts === null ? '' : String(volts),
    dross: cut.dross ? { kind: worst.kind, grade: worst.grade } : null,
    spatter: cut.dross?.some((d) => d.kind === 'top_spatter' && d.grade > 0) ?? false,
    note: cut.note,
  };
}

function entryOf(bevel: number): Entry {
  const digits = String(Math.round(Math.abs(bevel) * 10)).padStart(2, '0');
  return { digits, negative: bevel < 0 };
}

export const bevelOf = (entry: Entry | undefined): number | null =>
  entry && entry.digits !== '' ? ((entry.negative ? -1 : 1) * Number(entry.digits)) / 10 : null;

function after(log: Log): string {
  const { order } = log.sheet;
  return order[order.indexOf(log.at) + 1] ?? log.at;
}

/** A digit: an edge is full at two, volts at four (1276 is 127.6). */
export function digit(log: Log, d: string): Log {
  if (log.at === VOLTS) {
    const typed = log.volts.replace('.', '');
    const next = typed.length >= 4 ? d : typed + d;
    const full = next.length === 4;
    return {
      ...log,
      volts: full ? `${next.slice(0, 3)}.${next.slice(3)}` : next,
      at: full ? after(log) : log.at,
    };
  }
  const before = log.edges[log.at];
  const fresh = !before || before.digits.length >= 2;
  const digits = fresh ? d : before.digits + d;
  const negative = fresh ? log.negative : before.negative;
  const edges = { ...log.edges, [log.at]: { digits, negative } };
  return { ...log, edges, at: digits.length === 2 ? after(log) : log.at };
}

/** Ten degrees and more: the third digit belongs to the edge just left. */
export function tenfold(log: Log): Log {
  const { order } = log.sheet;
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

export const next = (log: Log): Log => ({ ...log, at: after(log) });

export const anythingTyped = (log: Log): boolean =>
  Object.keys(log.edges).length > 0 || log.volts !== '' || log.dross !== null;

export const sameDross = (a: Dross | null, b: Dross | null): boolean =>
  a === b || (a !== null && b !== null && a.kind === b.kind && a.grade === b.grade);

const voltsOf = (volts: string): number | null => (volts === '' ? null : Number(volts));

function readingAt(slot: Slot, entry: Entry | undefined) {
  const bevel = bevelOf(entry);
  if (bevel === null) return null;
  return {
    side: slot.side as 'right' | 'left' | 'both',
    heading_deg: slot.heading_deg,
    bevel_deg: bevel,
    u_deg: slot.u_deg,
    method: slot.method,
  };
}

/** The log as the server takes it; what was not typed is left out, never zero. */
export function requestOf(log: Log): CutRequest {
  const { dross } = log;
  const spatter = log.spatter ? [{ kind: 'top_spatter' as const, grade: 1 }] : [];
  const bottom = dross?.kind ? [{ kind: dross.kind, grade: dross.grade }] : [];
  return {
    piece: log.sheet.piece,
    speed_mm_min: log.speed_mm_min,
    cut_height_mm: log.cut_height_mm,
    arc_voltage_v: voltsOf(log.volts),
    through: log.through,
    edges: log.sheet.slots.flatMap((s) => readingAt(s, log.edges[s.key]) ?? []),
    dross: dross === null ? null : [...bottom, ...spatter],
    note: log.note,
    height_control: log.height_control,
    arc_lost: false,
  };
}

type Changes = Omit<Correction, 'version'>;

/** Only what was changed of a logged cut; empty where nothing was. */
export function changesOf(log: Log): Partial<Changes> {
  const { was } = log;
  if (was === null) return {};
  const changed: Partial<Changes> = {};
  if (log.speed_mm_min !== was.speed_mm_min) changed.speed_mm_min = log.speed_mm_min;
  if (log.cut_height_mm !== was.cut_height_mm) changed.cut_height_mm = log.cut_height_mm;
  if (log.height_control !== was.height_control) changed.height_control = log.height_control;
  if (log.through !== was.through) changed.through = log.through;
  if (log.note !== was.note) changed.note = log.note;
  if (log.volts !== was.volts) changed.arc_voltage_v = voltsOf(log.volts);
  const dross = drossChanges(log, was);
  if (dross) changed.dross = dross;
  const edges = log.sheet.slots.flatMap((s) => edgeChange(s, log.edges[s.key], was.edges[s.key]));
  if (edges.length > 0) changed.edges = edges;
  return changed;
}

function drossChanges(log: Log, was: Said): NonNullable<Changes['dross']> | null {
  const changed: NonNullable<Changes['dross']> = {};
  if (log.dross !== null && !sameDross(log.dross, was.dross)) {
    for (const kind of ['low_speed', 'high_speed'] as const)
      changed[kind] = log.dross.kind === kind ? log.dross.grade : 0;
  }
  if (log.dross !== null && log.spatter !== was.spatter) changed.top_spatter = log.spatter ? 1 : 0;
  return Object.keys(changed).length > 0 ? changed : null;
}

function edgeChange(slot: Slot, now: Entry | undefined, was: Entry | undefined) {
  if (now?.digits === was?.digits && now?.negative === was?.negative) return [];
  const edge = readingAt(slot, now);
  return edge === null && !slot.edge_id ? [] : [{ id: slot.edge_id ?? null, edge }];
}
