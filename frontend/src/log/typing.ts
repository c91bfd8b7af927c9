/**
 * What fingers, a keypad or a gauge on a cable do to a log, without React. Two digits fill an edge (2 4 is 2.4
 * degrees), a point makes it a number that ends with Enter.
 */
import {
  BOTTOM,
  VOLTS,
  bevelOf,
  goTo,
  lookKey,
  methodOf,
  type Dross,
  type Entry,
  type Kind,
  type Log,
  type Seen,
  type Slot,
} from './log';

const readBy = (log: Log): Pick<Entry, 'by'> => {
  const now = methodOf(log);
  // A reading that is put right was read with what it was read with.
  const before = log.sheet.slots.find((s) => s.key === log.at)?.edge_id;
  return now && !before ? { by: { method: now.method, u_deg: now.u_deg } } : {};
};

export function after(log: Log): string {
  const { order } = log.sheet;
  return order[order.indexOf(log.at) + 1] ?? log.at;
}

/** A digit: an edge is full at two, volts at four (1276 is 127.6). What stood there before is typed over. */
export function digit(log: Log, d: string): Log {
  return log.at === VOLTS ? voltsDigit(log, d) : edgeDigit(log, d);
}

function voltsDigit(log: Log, d: string): Log {
  const before = goesOn(log) ? log.volts : '';
  if (before.includes('.')) return { ...log, volts: before + d };
  const typed = before + d;
  const full = typed.length === 4;
  const volts = full ? `${typed.slice(0, 3)}.${typed.slice(3)}` : typed;
  return { ...log, volts, ...(full ? filled(log) : BEGUN) };
}

function edgeDigit(log: Log, d: string): Log {
  const stands = log.edges[log.at];
  const before = goesOn(log) && (stands?.digits.length ?? 0) < 2 ? stands : undefined;
  if (before?.typed !== undefined)
    return { ...log, edges: { ...log.edges, [log.at]: { ...before, typed: before.typed + d } } };
  const digits = (before?.digits ?? '') + d;
  const edges = { ...log.edges, [log.at]: { digits, negative: leansUnder(log), ...readBy(log) } };
  return { ...log, edges, ...(digits.length === 2 ? filled(log) : BEGUN) };
}

const BEGUN = { filled: false, begun: true } as const;

/** Whether what is typed belongs to what stands at hand already. */
const goesOn = (log: Log): boolean => log.begun && !log.filled;

/** The reading at hand is full: on to the next. The last one stays at hand. */
function filled(log: Log): Pick<Log, 'at' | 'filled' | 'begun'> {
  const at = after(log);
  return { at, filled: true, begun: at === log.at };
}

/**
 * Which way the edge at hand leans: as it stands there and is shown; else the sign of the edges before it stays for
 * the next, and the scrap's is its own, and mostly sticks out.
 */
export const leansUnder = (log: Log): boolean =>
  log.edges[log.at]?.negative ?? (isKept(log) && log.negative);

/** Whether two digits before a point filled the edge just left: the point is that one's, and it comes back to sight. */
const isLeft = (log: Log): boolean => log.filled && !log.begun;

const justLeft = ({ at, sheet: { order } }: Log) => order[order.indexOf(at) - 1];

/** A point, or a comma: the number is typed as it is shown, and ends with Enter. */
export function point(log: Log): Log {
  const back = isLeft(log) ? justLeft(log) : log.at;
  const on = goesOn(log) || log.filled;
  if (back === undefined || (log.filled && back === VOLTS)) return log;
  if (back === VOLTS) return pointOfVolts(log, on ? log.volts : '');
  const entry = on ? log.edges[back] : undefined;
  if (entry?.typed !== undefined || entry?.worked) return log;
  const typed = {
    ...readBy({ ...log, at: back }),
    ...entry,
    negative: leansUnder({ ...log, at: back }),
    digits: '',
    typed: `${entry?.digits || '0'}.`,
  };
  return { ...log, at: back, edges: { ...log.edges, [back]: typed }, ...BEGUN };
}

const pointOfVolts = (log: Log, before: string): Log =>
  before.includes('.') ? log : { ...log, volts: `${before || '0'}.`, ...BEGUN };

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
  return { ...log, edges: { ...log.edges, [at]: entry }, at: after({ ...log, at }), begun: false };
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
  const sheet = { ...log.sheet, slots: [...log.sheet.slots, extra], order };
  return { ...log, sheet, at: key, filled: false, begun: false };
}

/** Ten degrees and more: the third digit belongs to the edge just left. */
export function tenfold(log: Log): Log {
  const { order } = log.sheet;
  const at = order[order.indexOf(log.at) - 1] ?? log.at;
  const entry = log.edges[at];
  return entry?.digits.length === 2
    ? {
        ...log,
        at,
        edges: { ...log.edges, [at]: { ...entry, digits: `${entry.digits}0` } },
        ...BEGUN,
      }
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

export function erase(log: Log): Log {
  if (log.at === VOLTS) return { ...log, volts: '', filled: false, begun: false };
  return {
    ...log,
    filled: false,
    begun: false,
    edges: Object.fromEntries(Object.entries(log.edges).filter(([id]) => id !== log.at)),
  };
}

/** The next reading; a number with a point carried its own sign, which does not hold for the next. */
export const next = (log: Log): Log => ({
  ...log,
  ...goTo(log, after(log)),
  filled: false,
  begun: false,
  negative: log.edges[log.at]?.typed === undefined && log.negative,
});

/** Enter: the number is done. Where its last digit had done that already, nothing is skipped. */
export const enter = (log: Log): Log => (log.filled ? { ...log, filled: false } : next(log));

/** The reading before the one at hand. */
export function back(log: Log): Log {
  const { order } = log.sheet;
  return goTo(log, order[order.indexOf(log.at) - 1] ?? order.at(-1) ?? VOLTS);
}

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

/** A look tapped, tapped again to take it back, or a number typed. */
export function look(log: Log, item: number, what: string, seen: Seen): Log {
  const key = lookKey(item, what);
  const { [key]: before, ...others } = log.looks;
  const back = seen.value !== undefined && before?.value === seen.value;
  const none = seen.value === undefined && seen.number === undefined;
  return { ...log, looks: back || none ? others : { ...others, [key]: seen } };
}

/** The two put right. */
export function swap(log: Log, pair: { kept: string; scrap: string }): Log {
  const { [pair.kept]: kept, [pair.scrap]: scrap, ...others } = log.edges;
  if (!kept || !scrap) return log;
  return { ...log, edges: { ...others, [pair.kept]: scrap, [pair.scrap]: kept } };
}
