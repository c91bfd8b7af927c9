/**
 * A log as the server takes it: a new cut whole, a correction only in what was changed. What was not typed is left
 * out, never zero.
 */
import type { Schema } from '../kit/client';
import {
  BOTTOM,
  bevelOf,
  type Correction,
  type Dross,
  type Entry,
  type Log,
  type Said,
  type Seen,
  type Slot,
} from './log';

const sameDross = (a: Dross | null, b: Dross | null): boolean =>
  (a === null) === (b === null) && BOTTOM.every((kind) => (a?.[kind] ?? 0) === (b?.[kind] ?? 0));

/** The slots that were read, in the order in which their readings are sent. */
export const readSlots = (log: Log): Slot[] =>
  log.sheet.slots.filter((s) => bevelOf(log.edges[s.key]) !== null);

/** What a question about readings is remembered by: they are asked about again once one of them is another. */
export const askedOf = (log: Log, keys: readonly string[]): string =>
  keys.map((k) => `${k}=${bevelOf(log.edges[k]) ?? ''}`).join(' ');

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
  const kind = log.sheet.kind as 'strip_ladder' | 'height_ladder';
  return { key: log.key, kind, strips, insisted: insistedOf(log) };
}

/** What a number that is insisted on is remembered by: it is asked about again once it is another. */
export const rightOf = (log: Log, field: string): string => `${field}=${numberIn(log, field)}`;

function numberIn(log: Log, field: string): string {
  if (field === 'arc_voltage_v') return log.volts;
  if (field === 'edges') return JSON.stringify(Object.values(log.edges).map(bevelOf));
  if (field.startsWith('strips.')) {
    const slot = Number(field.split('.')[1]);
    const edges = log.sheet.slots.filter((s) => s.item === slot).map((s) => bevelOf(log.edges[s.key]));
    return JSON.stringify([log.strips[slot]?.volts ?? null, edges]);
  }
  return String(log[field as 'kerf_mm' | 'lag_deg' | 'set_point_v'] ?? '');
}

/** The fields whose number stands as it was insisted on. */
export const insistedOf = (log: Log): string[] =>
  log.right.flatMap((said) => {
    const field = said.split('=')[0] ?? '';
    return said === rightOf(log, field) ? [field] : [];
  });

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
    insisted: insistedOf(log),
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

/** What of an entry is the reading. */
const ENTRY = ['digits', 'negative', 'typed', 'worked'] as const;

function edgeChange(slot: Slot, now: Entry | undefined, was: Entry | undefined) {
  if (ENTRY.every((part) => now?.[part] === was?.[part])) return [];
  const edge = readingAt(slot, now);
  return edge === null && !slot.edge_id ? [] : [{ id: slot.edge_id ?? null, edge }];
}
