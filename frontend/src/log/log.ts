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
  /** The edge before this one was just filled by its last digit: an Enter after it is that one's. */
  filled: boolean;
  /** Questions that the operator answered with "it is right", by reading and value. */
  insisted: string[];
}

export const VOLTS = 'volts';
const BOTTOM = ['low_speed', 'high_speed'] as const;

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
    insisted: [],
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

const readBy = (log: Log): Pick<Entry, 'by'> => {
  const now = methodOf(log);
  // A reading that is put right was read with what it was read with.
  const before = log.sheet.slots.find((s) => s.key === log.at)?.edge_id;
  return now && !before ? { by: { method: now.method, u_deg: now.u_deg } } : {};
};

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

function seen(
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
  return entry.digits === '' ? null : (sign * Number(entry.digits)) / 10;
}

function after(log: Log): string {
  const { order } = log.sheet;
  return order[order.indexOf(log.at) + 1] ?? log.at;
}

/** A digit: an edge is full at two, volts at four (1276 is 127.6). */
export function digit(log: Log, d: string): Log {
  if (log.at === VOLTS) {
    if (log.volts.endsWith('.')) return { ...log, volts: log.volts + d };
    const typed = log.volts.replace('.', '');
    const next = typed.length >= 4 ? d : typed + d;
    const full = next.length === 4;
    return {
      ...log,
      volts: full ? `${next.slice(0, 3)}.${next.slice(3)}` : next,
      at: full ? after(log) : log.at,
      filled: full,
    };
  }
  const before = log.edges[log.at];
  if (before?.typed !== undefined)
    return {
      ...log,
      edges: { ...log.edges, [log.at]: { ...before, typed: before.typed + d } },
    };
  const full = before !== undefined && before.digits.length >= 2;
  const digits = before && !full ? before.digits + d : d;
  // The sign of the edges before it stays for the next; the scrap's is its own, and mostly sticks out.
  const negative = before && !full ? before.negative : isKept(log) && log.negative;
  const edges = { ...log.edges, [log.at]: { digits, negative, ...readBy(log) } };
  const filled = digits.length === 2;
  return { ...log, edges, at: filled ? after(log) : log.at, filled };
}

/** A point, or a comma: the number is typed as it is shown, and ends with Enter. */
export function point(log: Log): Log {
  const { order } = log.sheet;
  const left = order[order.indexOf(log.at) - 1];
  const empty = log.at === VOLTS ? log.volts === '' : !log.edges[log.at];
  // Two digits before a point filled the edge just left: it is that one's.
  const at = empty && left && log.edges[left]?.digits.length === 2 ? left : log.at;
  if (at === VOLTS) return log.volts.includes('.') ? log : { ...log, volts: `${log.volts}.` };
  const entry = log.edges[at] ?? { digits: '', negative: isKept(log) && log.negative, ...readBy(log) };
  if (entry.typed !== undefined || entry.worked) return log;
  const typed = `${entry.digits || '0'}.`;
  return { ...log, at, edges: { ...log.edges, [at]: { ...entry, digits: '', typed } } };
}

/** A bevel worked out from lengths, or measured on a photo, for the edge at hand; the next is at hand then. */
export function take(
  log: Log,
  read: { bevel_deg: number; u_deg: number; method: string; told: string },
): Log {
  const entry: Entry = {
    digits: '',
    negative: read.bevel_deg < 0,
    by: { method: read.method, u_deg: read.u_deg },
    worked: { bevel_deg: read.bevel_deg, told: read.told },
  };
  // Two widths are the mean of both edges: that has a place of its own.
  const both = log.sheet.slots.find((s) => s.side === 'both' && read.method === 'strip_widths');
  const at = both?.key ?? log.at;
  return { ...log, edges: { ...log.edges, [at]: entry }, at: after({ ...log, at }) };
}

/** The same edge once more: another reading of it, which the one there stays beside. */
export function onceMore(log: Log): Log {
  const slot = log.sheet.slots.find((s) => s.key === log.at);
  if (!slot || bevelOf(log.edges[log.at]) === null) return log;
  const count = log.sheet.slots.filter((s) => s.key.startsWith(`${slot.key} again`)).length;
  const key = `${slot.key} again ${count + 1}`;
  const extra: Slot = {
    ...slot,
    key,
    edge_id: null,
    bevel_deg: null,
    told: '',
    label: `Once more: ${slot.label}`,
  };
  const order = log.sheet.order.flatMap((k) => (k === log.at ? [k, key] : [k]));
  return { ...log, sheet: { ...log.sheet, slots: [...log.sheet.slots, extra], order }, at: key };
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
  if (log.at !== VOLTS && !isKept(log))
    return { ...log, edges: { ...log.edges, [log.at]: { digits: entry?.digits ?? '', negative } } };
  const edges = entry ? { ...log.edges, [log.at]: { ...entry, negative } } : log.edges;
  return { ...log, negative, edges };
}

/** Whether the edge at hand is of the kept part. */
const isKept = (log: Log): boolean => log.sheet.slots.find((s) => s.key === log.at)?.kept ?? true;

/** Which way the edge at hand leans, or would. */
export const leansUnder = (log: Log): boolean =>
  log.edges[log.at]?.negative ?? (isKept(log) && log.negative);

export function erase(log: Log): Log {
  if (log.at === VOLTS) return { ...log, volts: '' };
  return {
    ...log,
    edges: Object.fromEntries(Object.entries(log.edges).filter(([id]) => id !== log.at)),
  };
}

/** The next reading; a number with a point carried its own sign, which does not hold for the next. */
export const next = (log: Log): Log => ({
  ...log,
  filled: false,
  at: after(log),
  negative: log.edges[log.at]?.typed === undefined && log.negative,
});

/** Enter: the number is done. Where its last digit had done that already, nothing is skipped. */
export const enter = (log: Log): Log => (log.filled ? { ...log, filled: false } : next(log));

/** The reading before the one at hand. */
export function back(log: Log): Log {
  const { order } = log.sheet;
  return { ...log, at: order[order.indexOf(log.at) - 1] ?? order.at(-1) ?? VOLTS };
}

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

/** A kind of dross with its grade tapped: said, said otherwise, or taken back. No kind is a clean underside. */
export function tapDross(log: Log, kind: Kind | null, grade: number): Log {
  if (kind === null) return { ...log, dross: isClean(log.dross) ? null : {} };
  const { [kind]: before, ...others } = log.dross ?? {};
  const now = before === grade ? others : { ...others, [kind]: grade };
  return { ...log, dross: before === grade && Object.keys(others).length === 0 ? null : now };
}

/** One grade more of a kind, and from the worst back to none of it: for a key. */
export function moreDross(log: Log, kind: Kind): Log {
  const grade = ((log.dross?.[kind] ?? 0) + 1) % 5;
  return { ...log, dross: { ...log.dross, [kind]: grade === 0 ? undefined : grade } };
}

export const isClean = (dross: Dross | null): boolean =>
  dross !== null && BOTTOM.every((kind) => !dross[kind]);

export const isTapped = (dross: Dross | null, kind: Kind | null, grade: number): boolean =>
  kind === null ? isClean(dross) : dross?.[kind] === grade;

const sameDross = (a: Dross | null, b: Dross | null): boolean =>
  (a === null) === (b === null) && BOTTOM.every((kind) => (a?.[kind] ?? 0) === (b?.[kind] ?? 0));

/** A look tapped, tapped again to take it back, or a number typed. */
export function look(log: Log, item: number, what: string, seen: Seen): Log {
  const key = lookKey(item, what);
  const { [key]: before, ...others } = log.looks;
  const back = seen.value !== undefined && before?.value === seen.value;
  const none = seen.value === undefined && seen.number === undefined;
  return { ...log, looks: back || none ? others : { ...others, [key]: seen } };
}

/** The slots that were read, in the order in which their readings are sent. */
export const readSlots = (log: Log): Slot[] =>
  log.sheet.slots.filter((s) => bevelOf(log.edges[s.key]) !== null);

/** What a question about readings is remembered by: they are asked about again once one of them is another. */
export const askedOf = (log: Log, keys: readonly string[]): string =>
  keys.map((k) => `${k}=${bevelOf(log.edges[k]) ?? ''}`).join(' ');

/** The two put right. */
export function swap(log: Log, pair: { kept: string; scrap: string }): Log {
  const { [pair.kept]: kept, [pair.scrap]: scrap, ...others } = log.edges;
  if (!kept || !scrap) return log;
  return { ...log, edges: { ...others, [pair.kept]: scrap, [pair.scrap]: kept } };
}

const voltsOf = (volts: string): number | null => (volts === '' ? null : Number(volts));

function readingAt(slot: Slot, entry: Entry | undefined) {
  const bevel = bevelOf(entry);
  if (bevel === null) return null;
  return {
    side: slot.side as 'right' | 'left' | 'both',
    heading_deg: slot.heading_deg,
    bevel_deg: bevel,
    u_deg: entry?.by?.u_deg ?? slot.u_deg,
    method: entry?.by?.method ?? slot.method,
    told: entry?.worked?.told ?? (bevel === slot.bevel_deg ? slot.told : ''),
  };
}

const looksOf = (looks: Record<string, Seen>) =>
  Object.entries(looks).map(([key, seen]) => {
    const [item = '0', what = ''] = key.split(' ');
    return { item: Number(item), what, value: seen.value ?? null, number: seen.number ?? null };
  });

export const isComb = (log: Log): boolean =>
  log.sheet.kind === 'strip_ladder' || log.sheet.kind === 'height_ladder';

/** The slots of a ladder that anything was seen of, as the server takes them. */
export function ladderOf(log: Log): Schema['LadderRequest'] {
  const strips = log.sheet.items.flatMap(({ number }) => {
    const edges = log.sheet.slots
      .filter((s) => s.item === number)
      .flatMap((s) => readingAt(s, log.edges[s.key]) ?? []);
    const looks = looksOf(log.looks)
      .filter((k) => k.item === number)
      .map((k) => ({ ...k, item: 0 }));
    const { answer, volts } = log.strips[number] ?? {};
    if (answer === undefined && typeof volts !== 'number' && edges.length + looks.length === 0)
      return [];
    return [{ slot: number, answer: answer ?? null, arc_voltage_v: volts ?? null, edges, looks }];
  });
  return { key: log.key, kind: log.sheet.kind as 'strip_ladder' | 'height_ladder', strips };
}

/** The log as the server takes it; what was not typed is left out, never zero. */
export function requestOf(log: Log): Omit<Schema['NewCutRequest'], 'key'> {
  const { dross } = log;
  const spatter = log.spatter ? [{ kind: 'top_spatter' as const, grade: 1 }] : [];
  const bottom = BOTTOM.flatMap((kind) => {
    const grade = dross?.[kind] ?? 0;
    return grade > 0 ? [{ kind, grade }] : [];
  });
  return {
    piece: log.sheet.piece,
    kind: log.sheet.kind,
    looks: looksOf(log.looks),
    speed_mm_min: log.speed_mm_min,
    cut_height_mm: log.cut_height_mm,
    arc_voltage_v: voltsOf(log.volts),
    through: log.sheet.underside ? log.through : null,
    edges: log.sheet.slots.flatMap((s) => readingAt(s, log.edges[s.key]) ?? []),
    dross: dross === null ? null : [...bottom, ...spatter],
    note: log.note,
    height_control: log.height_control,
    set_point_v: log.height_control === 'set_point' ? log.set_point_v : null,
    arc_lost: log.arc_lost,
    kerf_mm: log.kerf_mm,
    lag_deg: log.lag_deg,
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
  if (log.arc_lost !== was.arc_lost) changed.arc_lost = log.arc_lost;
  if (log.set_point_v !== was.set_point_v) changed.set_point_v = log.set_point_v;
  if (log.kerf_mm !== was.kerf_mm) changed.kerf_mm = log.kerf_mm;
  if (log.lag_deg !== was.lag_deg) changed.lag_deg = log.lag_deg;
  if (log.volts !== was.volts) changed.arc_voltage_v = voltsOf(log.volts);
  const dross = drossChanges(log, was);
  if (dross) changed.dross = dross;
  const looks = lookChanges(log, was);
  if (looks.length > 0) changed.looks = looks;
  const edges = log.sheet.slots.flatMap((s) => edgeChange(s, log.edges[s.key], was.edges[s.key]));
  if (edges.length > 0) changed.edges = edges;
  return changed;
}

function drossChanges(log: Log, was: Said): NonNullable<Changes['dross']> | null {
  const changed: NonNullable<Changes['dross']> = {};
  if (log.dross !== null && !sameDross(log.dross, was.dross)) {
    for (const kind of BOTTOM) changed[kind] = log.dross[kind] ?? 0;
  }
  if (log.dross !== null && log.spatter !== was.spatter) changed.top_spatter = log.spatter ? 1 : 0;
  return Object.keys(changed).length > 0 ? changed : null;
}

/** What is looked at otherwise now; without value and number where it was not looked at after all. */
function lookChanges(log: Log, was: Said) {
  const keys = [...new Set([...Object.keys(log.looks), ...Object.keys(was.looks)])];
  const other = keys.filter((k) => {
    const [a, b] = [log.looks[k], was.looks[k]];
    return a?.value !== b?.value || a?.number !== b?.number;
  });
  const now: Record<string, Seen> = {};
  for (const k of other) now[k] = log.looks[k] ?? {};
  return looksOf(now);
}

function edgeChange(slot: Slot, now: Entry | undefined, was: Entry | undefined) {
  const same = now?.digits === was?.digits && now?.negative === was?.negative;
  if (same && now?.typed === was?.typed && now?.worked === was?.worked) return [];
  const edge = readingAt(slot, now);
  return edge === null && !slot.edge_id ? [] : [{ id: slot.edge_id ?? null, edge }];
}
