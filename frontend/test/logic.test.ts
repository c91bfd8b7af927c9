import assert from 'node:assert/strict';
import { test } from 'node:test';
import {
  missingOf,
  missingText,
  NOTHING_SAID,
  requestOf as requestOfRow,
  wordsOf,
} from '../src/book/row';
import type { Cut, Trial } from '../src/kit/client';
import { keepText } from '../src/kit/draft';
import {
  chanceInWords,
  showChange,
  showDegrees,
  showLength,
  showSpeed,
  writtenUnit,
} from '../src/kit/units';
import {
  anythingTyped,
  bevelOf,
  correctionLog,
  goTo,
  newLog,
  type Log,
  type Sheet,
} from '../src/log/log';
import { changesOf, ladderOf, requestOf } from '../src/log/sending';
import {
  back,
  digit,
  enter,
  erase,
  moreDross,
  look,
  next,
  onceMore,
  point,
  sign,
  swap,
  take,
  tapDross,
  tenfold,
} from '../src/log/typing';
import { askedOf, isReady, type Chosen } from '../src/pieces/asked';
import type { Stroke } from '../src/programs/queries';
import { placeAt } from '../src/programs/run';
import { Rings, type Samples } from '../src/height/live';
import { readBack } from '../src/log/openLog';
import type { Bench } from '../src/kit/client';

const slot = (key: string, side: string, heading_deg: number, kept: boolean) => ({
  key,
  side,
  heading_deg,
  kept,
  label: key,
  u_deg: 0.4,
  method: 'angle_gauge',
  edge_id: null,
  bevel_deg: null,
  item: 0,
  told: '',
});

const GAUGE = {
  name: 'Angle gauge',
  method: 'angle_gauge' as const,
  u_deg: 0.4,
  unit: 'deg' as const,
  label: '',
  reads: '',
  mind: '',
  settles: true,
  says: '',
};

const SHEET: Sheet = {
  kind: 'square',
  piece: 'square',
  title: 'Square',
  underside: true,
  allowed_deg: 2,
  slots: [
    slot('right 0', 'right', 0, true),
    slot('right 90', 'right', 90, true),
    slot('left 0', 'left', 0, false),
  ],
  order: ['right 0', 'right 90', 'volts', 'left 0'],
  through: [],
  dross: [],
  dross_looks: '',
  strip_answers: [],
  methods: [GAUGE],
  items: [],
  looks_whole: [],
  looks_each: [],
  looks: [],
};
const TRIAL = { height_by_hand: false } as Trial;
const fresh = (): Log => newLog(SHEET, { speed_mm_min: 2100, cut_height_mm: 1.5 }, TRIAL, 'full');
const typed = (log: Log, keys: string): Log => Array.from(keys).reduce(digit, log);

const CUT = {
  id: 7,
  version: 3,
  piece: 'square',
  speed_mm_min: 2100,
  cut_height_mm: 1.5,
  height_control: 'off',
  arc_voltage_v: 127.64,
  through: 'full',
  dross: [
    { kind: 'low_speed', grade: 2 },
    { kind: 'high_speed', grade: 1 },
    { kind: 'top_spatter', grade: 3 },
  ],
  note: 'as found',
} as unknown as Cut;
const READ: Sheet = {
  ...SHEET,
  slots: [
    {
      ...slot('right 0', 'right', 0, true),
      key: 'reading 1',
      edge_id: 1,
      bevel_deg: -2.37,
      u_deg: 0.15,
      method: 'shop jig',
    },
    { ...slot('right 90', 'right', 90, true), key: 'reading 2', edge_id: 2, bevel_deg: 11 },
    slot('left 0', 'left', 0, false),
  ],
  order: ['reading 1', 'reading 2', 'volts', 'left 0'],
};

void test('two digits fill an edge, four the volts, and the next reading is at hand', () => {
  const log = typed(fresh(), '24111276');
  assert.deepEqual([bevelOf(log.edges['right 0']), bevelOf(log.edges['right 90'])], [2.4, 1.1]);
  assert.deepEqual([log.volts, log.at], ['127.6', 'left 0']);
});

/** What keys do, one after the other: digits, > Next, < back, ↵ Enter, . point, - sign, x erase, V to the volts. */
const ACTS: Record<string, (log: Log) => Log> = {
  '>': next,
  '<': back,
  '↵': enter,
  '.': point,
  '-': (log) => sign(log, !log.negative),
  x: erase,
  V: (log) => goTo(log, 'volts'),
};
const pressed = (log: Log, keys: string): Log =>
  Array.from(keys).reduce((now, key) => (ACTS[key] ?? ((l: Log) => digit(l, key)))(now), log);
const readings = (log: Log): Record<string, number | string | null> => ({
  ...Object.fromEntries(log.sheet.slots.map((s) => [s.key, bevelOf(log.edges[s.key])])),
  volts: log.volts === '' ? null : log.volts,
});

/** Keys, and what stands on the first edge, the second, the volts and the scrap edge after them. */
const TYPED: readonly [string, (number | string | null)[]][] = [
  ['24', [2.4, null, null, null]],
  ['2', [2, null, null, null]], // one digit is whole degrees
  ['2>11', [2, 1.1, null, null]],
  ['1<V>', [1, null, null, null]],
  ['1><23', [2.3, null, null, null]], // gone back to, it is typed over
  ['24<31', [3.1, null, null, null]],
  ['2411<<7', [7, 1.1, null, null]],
  ['2.4', [2.4, null, null, null]],
  ['12.5', [12.5, null, null, null]], // two digits and a point are the edge just left
  ['24<.5', [0.5, null, null, null]],
  ['2.4↵1.1↵', [2.4, 1.1, null, null]],
  ['24↵11↵', [2.4, 1.1, null, null]], // an Enter after its last digit skips nothing
  ['-24', [-2.4, null, null, null]],
  ['24-11', [2.4, -1.1, null, null]],
  ['24<x', [null, null, null, null]],
  ['24<x31', [3.1, null, null, null]],
  ['V1276', [null, null, '127.6', null]],
  ['V127.6', [null, null, '127.6', null]],
  ['V121><1195', [null, null, '119.5', null]], // not 121.1, with a 5 on the next edge
  ['V2050V1220', [null, null, '122.0', null]],
  ['V205><122.0', [null, null, '122.0', null]],
  ['V1276.', [null, null, '127.6', null]], // a point after it is full means nothing
  ['V1276<98', [null, null, '98', null]],
  ['V127624', [null, null, '127.6', 2.4]],
  ['V12762431', [null, null, '127.6', 3.1]], // the last one stays at hand, and is typed over
  ['V1276<x1195', [null, null, '119.5', null]],
];

void test('what is typed where something stands takes its place, by the table', () => {
  for (const [keys, expected] of TYPED)
    assert.deepEqual(
      Object.values(readings(pressed(fresh(), keys))),
      [expected[0], expected[1], expected[3], expected[2]],
      keys,
    );
});

void test('a correction opened and typed into is typed over, and nothing else changes', () => {
  const log = correctionLog(CUT, READ, TRIAL);
  const put = pressed(log, 'V1220');
  assert.equal(put.volts, '122.0');
  assert.deepEqual({ ...readings(put), volts: '' }, { ...readings(log), volts: '' });
  assert.equal(bevelOf(pressed(log, '31').edges['reading 1']), -3.1); // its sign is shown, and stays
});

void test('no key, after any others, changes a reading that is not at hand before it or after it', () => {
  const keys = ['2', '4', '>', '<', '.', '-', 'x', '↵'];
  const tried = (log: Log, depth: number): number => {
    if (depth === 0) return 1;
    let count = 0;
    for (const key of keys) {
      const to = pressed(log, key);
      const [was, now] = [readings(log), readings(to)];
      for (const at of Object.keys(now))
        if (was[at] !== now[at])
          assert.ok([log.at, to.at].includes(at), `${key} at ${log.at} changed ${at}`);
      count += tried(to, depth - 1);
    }
    return count;
  };
  assert.equal(tried(fresh(), 5), keys.length ** 5);
  assert.equal(tried(goTo(fresh(), 'volts'), 5), keys.length ** 5);
});

void test('a sign holds for the edges that follow, and turns the one at hand', () => {
  const log = typed(sign(typed(fresh(), '24'), true), '11');
  assert.deepEqual([bevelOf(log.edges['right 0']), bevelOf(log.edges['right 90'])], [2.4, -1.1]);
  const turned = sign({ ...log, at: 'right 0' }, true);
  assert.equal(bevelOf(turned.edges['right 0']), -2.4);
});

void test('ten degrees and more is the edge just left; erasing leaves it unread, not zero', () => {
  const log = tenfold(typed(fresh(), '11'));
  assert.equal(bevelOf(log.edges['right 0']), 11);
  assert.equal(bevelOf(erase({ ...log, at: 'right 0' }).edges['right 0']), null);
  assert.equal(next(log).at, 'right 90');
});

void test('what was not typed is left out of a request, never zero', () => {
  const request = requestOf(typed(fresh(), '24'));
  assert.deepEqual(
    request.edges.map((e) => [e.side, e.heading_deg, e.bevel_deg]),
    [['right', 0, 2.4]],
  );
  assert.deepEqual([request.arc_voltage_v, request.dross], [null, null]);
  const clean = requestOf({ ...fresh(), dross: {}, spatter: true });
  assert.deepEqual(clean.dross, [{ kind: 'top_spatter', grade: 1 }]);
});

void test('both kinds of dross are told, a tap takes its own back, and a clean underside is neither', () => {
  const both = tapDross(tapDross(fresh(), 'low_speed', 2), 'high_speed', 1);
  assert.deepEqual(requestOf(both).dross, [
    { kind: 'low_speed', grade: 2 },
    { kind: 'high_speed', grade: 1 },
  ]);
  assert.deepEqual(tapDross(both, 'low_speed', 2).dross, { high_speed: 1 });
  assert.equal(tapDross(tapDross(fresh(), 'low_speed', 2), 'low_speed', 2).dross, null);
  assert.deepEqual(tapDross(both, null, 0).dross, {});
  assert.deepEqual(moreDross(moreDross(fresh(), 'low_speed'), 'low_speed').dross, { low_speed: 2 });
});

void test('what else was seen of a cut goes with it, and a set-point only where one was held', () => {
  const log = { ...fresh(), arc_lost: true, kerf_mm: 1.9, lag_deg: 4, set_point_v: 128 };
  const request = requestOf(log);
  assert.deepEqual(
    [request.arc_lost, request.kerf_mm, request.lag_deg, request.set_point_v],
    [true, 1.9, 4, null],
  );
  assert.equal(requestOf({ ...log, height_control: 'set_point' }).set_point_v, 128);
});

void test('the scrap has a sign of its own, and a pair that looks swapped is put right', () => {
  const log = typed(sign(fresh(), true), '4010');
  assert.equal(bevelOf(log.edges['right 0']), -4);
  const scrap = typed({ ...log, at: 'left 0' }, '12');
  assert.equal(bevelOf(scrap.edges['left 0']), 1.2); // not undercut as the edges before it
  assert.equal(bevelOf(typed(sign({ ...log, at: 'left 0' }, true), '12').edges['left 0']), -1.2);
  const right = swap(scrap, { kept: 'right 0', scrap: 'left 0' });
  assert.deepEqual([bevelOf(right.edges['right 0']), bevelOf(right.edges['left 0'])], [1.2, -4]);
});

void test('a gauge on a cable types points, signs and Enter: each number is one edge', () => {
  const press = (log: Log, keys: string): Log =>
    Array.from(keys).reduce((now, k) => {
      if (k === '\n') return enter(now);
      if (k === '-') return sign(now, true);
      return k === '.' || k === ',' ? point(now) : digit(now, k);
    }, log);
  const log = press(fresh(), '-2.45\n12,4\n127.6\n08\n');
  assert.deepEqual(
    ['right 0', 'right 90', 'left 0'].map((k) => bevelOf(log.edges[k])),
    [-2.45, 12.4, 0.8],
  );
  assert.equal(log.volts, '127.6');
  assert.deepEqual(
    requestOf(log).edges.map((e) => [e.method, e.u_deg]),
    [
      ['angle_gauge', 0.4],
      ['angle_gauge', 0.4],
      ['angle_gauge', 0.4],
    ],
  );
});

void test('an edge read once more is a second reading beside the first', () => {
  const once = typed(fresh(), '24');
  const twice = typed(onceMore({ ...once, at: 'right 0' }), '20');
  assert.deepEqual(
    requestOf(twice).edges.map((e) => [e.side, e.heading_deg, e.bevel_deg]),
    [
      ['right', 0, 2.4],
      ['right', 0, 2],
    ],
  );
  assert.equal(twice.at, 'right 90');
  assert.equal(onceMore(fresh()).sheet.slots.length, 3); // there is no first reading yet
});

void test('a bevel worked out is sent with its uncertainty and what was read of it', () => {
  const read = { bevel_deg: -2.0045, u_deg: 0.2, method: 'square_and_feeler', told: 'gap 0.28 mm' };
  const [edge] = requestOf(take(fresh(), read)).edges;
  assert.deepEqual([edge?.bevel_deg, edge?.u_deg, edge?.told], [-2.0045, 0.2, 'gap 0.28 mm']);
});

void test('a look tapped again is taken back, and a correction says only what is another', () => {
  const seen = look(fresh(), 0, 'colour', { value: 'straw' });
  assert.deepEqual(requestOf(seen).looks, [{ item: 0, what: 'colour', value: 'straw', number: null }]);
  assert.deepEqual(requestOf(look(seen, 0, 'colour', { value: 'straw' })).looks, []);
  const sheet = { ...READ, looks: [{ item: 0, what: 'colour', value: 'grey', number: null }] };
  const opened = correctionLog(CUT, sheet, TRIAL);
  assert.equal(changesOf(opened).looks, undefined);
  const none = look(opened, 0, 'colour', { value: 'grey' });
  assert.deepEqual(changesOf(none).looks, [{ item: 0, what: 'colour', value: null, number: null }]);
});

void test('of a comb only the slots that were looked at are sent, each with its own edges', () => {
  const items = [1, 2, 3].map((number) => ({ number, name: `slot ${number}` }));
  const slots = items.flatMap((i) => [
    { ...slot(`${i.number} right 90`, 'right', 90, true), item: i.number },
    { ...slot(`${i.number} left 90`, 'left', 90, false), item: i.number },
  ]);
  const sheet = { ...SHEET, kind: 'strip_ladder' as const, items, slots } as Sheet;
  const comb = newLog(sheet, { speed_mm_min: 2100, cut_height_mm: 1.5 }, TRIAL, null);
  const edges = { '2 left 90': { digits: '', negative: true, typed: '1.4' } };
  const told = ladderOf({ ...comb, edges, strips: { 3: { volts: 128 } } });
  assert.deepEqual(
    told.strips.map((s) => [s.slot, s.answer, s.arc_voltage_v, s.edges.map((e) => e.bevel_deg)]),
    [
      [2, null, null, [-1.4]],
      [3, null, 128, []],
    ],
  );
});

void test('a log that was erased again is none', () => {
  const bench = { log_sheet: SHEET, now: { setting: fresh() }, trial: TRIAL } as unknown as Bench;
  const erased = erase({ ...typed(fresh(), '24'), at: 'right 0' });
  assert.equal(anythingTyped(erased), false);
  assert.equal(readBack(JSON.stringify(erased), bench), null);
  assert.deepEqual([back(fresh()).at, back({ ...fresh(), at: 'volts' }).at], ['left 0', 'right 90']);
});

void test('a correction that touches nothing says nothing', () => {
  assert.deepEqual(changesOf(correctionLog(CUT, READ, TRIAL)), {});
});

void test('a correction says what was touched, with the words and doubts of that reading', () => {
  const log = correctionLog(CUT, READ, TRIAL);
  assert.deepEqual(changesOf({ ...log, note: 'mine' }), { note: 'mine' });
  const edge = changesOf(typed({ ...log, at: 'reading 1' }, '20')).edges;
  assert.deepEqual(edge, [
    {
      id: 1,
      edge: { side: 'right', heading_deg: 0, bevel_deg: -2, u_deg: 0.15, method: 'shop jig', told: '' },
    },
  ]);
  assert.deepEqual(changesOf(erase({ ...log, at: 'reading 2' })).edges, [{ id: 2, edge: null }]);
  const added = changesOf(typed({ ...log, at: 'left 0' }, '30')).edges;
  assert.deepEqual(
    added?.map((e) => [e.id, e.edge?.side]),
    [[null, 'left']],
  );
  // The bottom is one choice, the spatter another: neither takes the other along.
  const dross = (change: Partial<Log>) => changesOf({ ...log, ...change }).dross;
  assert.deepEqual(dross({ spatter: false }), { top_spatter: 0 });
  assert.deepEqual(dross({ dross: { high_speed: 4 } }), { low_speed: 0, high_speed: 4 });
  assert.equal(changesOf(erase({ ...log, at: 'volts' })).arc_voltage_v, null);
});

void test('a half-typed log that an older version kept is laid on the sheet', () => {
  const bench = { log_sheet: SHEET, now: { setting: fresh() }, trial: TRIAL } as unknown as Bench;
  const old = { key: 'k', edges: { 'right 0': { digits: '24', negative: true } }, volts: '127' };
  const log = readBack(JSON.stringify({ ...old, dross: 'none' }), bench);
  assert.deepEqual([bevelOf(log?.edges['right 0']), log?.volts, log?.key], [-2.4, '127', 'k']);
  assert.deepEqual(log?.dross, {});
  const kind = { ...old, dross: { kind: 'low_speed', grade: 2 } };
  assert.deepEqual(readBack(JSON.stringify(kind), bench)?.dross, { low_speed: 2 });
  assert.equal(readBack('{"edges', bench), null);
});

void test('quantities are shown in the shop’s units, to no more digits than they mean', () => {
  const inch = { length_unit: 'in', speed_unit: 'in/min' };
  assert.deepEqual(showLength(1.524, inch), { text: '0.060', unit: 'in' });
  assert.deepEqual(showSpeed(2413, inch), { text: '95', unit: 'in/min' });
  assert.deepEqual(showSpeed(2413, { length_unit: 'mm', speed_unit: 'm/min' }).text, '2.41');
  assert.equal(showChange(showLength(-0.1, { length_unit: 'mm', speed_unit: 'mm/min' })), '\u22120.10');
  assert.equal(showChange({ text: '0.20', unit: 'mm' }), '+0.20');
  assert.deepEqual([showDegrees(-0.04), showDegrees(null)], ['0.0\u00b0', 'not read']);
});

void test('a chance is told no finer than it is known', () => {
  assert.deepEqual([0.999, 0.95, 0.94, 0.62, 0.06, 0.01].map(chanceInWords), [
    '95 in 100 or better',
    '95 in 100 or better',
    'about 9 in 10',
    'about 6 in 10',
    'about 1 in 10',
    'less than 1 in 20',
  ]);
});

const columns = (from: number, to: number, phase: Samples['phase'][number] = 'steady'): Samples => {
  const n = Array.from({ length: to - from + 1 }, (_, i) => from + i);
  return {
    n,
    at_s: n.map((i) => i / 100),
    volts_v: n.map((i) => (i === 3 ? null : 128)),
    set_point_v: n.map(() => 128),
    z_mm: n.map(() => 1.5),
    feed_mm_min: n.map(() => 2100),
    control: n.map((i) => (i > 50 ? 1 : 0)),
    phase: n.map(() => phase),
  };
};

void test('a live cut: samples told twice count once, and such as never came are missed', () => {
  const rings = new Rings();
  rings.take(columns(1, 10));
  rings.take(columns(10, 12));
  assert.deepEqual([rings.received, rings.lost], [12, 0]);
  rings.take(columns(16, 20));
  assert.deepEqual([rings.received, rings.lost], [17, 3]);
  rings.take(columns(1, 2)); // the server was started anew, and counts from the beginning
  assert.deepEqual([rings.received, rings.lost], [19, 3]);
});

void test('a live cut: what is missed is no number, and the blind way ends where control begins', () => {
  const rings = new Rings();
  rings.take(columns(1, 3));
  assert.equal(rings.now()?.volts, null);
  rings.take(columns(4, 100));
  const since = rings.sinceArc();
  assert.ok(since);
  assert.ok(Math.abs(since.seconds - 0.99) < 1e-6);
  assert.ok(Math.abs(since.blind_mm - 35 * 0.49) < 0.01, String(since.blind_mm));
  rings.take(columns(101, 101, 'idle'));
  assert.equal(rings.sinceArc(), null);
  for (let i = 0; i < 700; i++) rings.take(columns(102 + 100 * i, 201 + 100 * i));
  assert.equal(rings.held, 65_536);
  assert.equal(rings.now()?.at_s, 701.01);
});

void test('a text that the device has no room for leaves nothing older behind, and breaks nothing', () => {
  const kept = new Map([['rows', 'of before']]);
  const small = {
    setItem: (key: string, text: string) => {
      if (text.length > 10) throw new Error('QuotaExceededError');
      kept.set(key, text);
    },
    removeItem: (key: string) => void kept.delete(key),
  };
  assert.equal(keepText(small, 'rows', 'short'), true);
  assert.equal(kept.get('rows'), 'short');
  assert.equal(keepText(small, 'rows', 'far longer than there is room'), false);
  assert.equal(kept.get('rows'), undefined);
});

void test('a typed row: nothing that nobody gave, a delay of 0 is a value, and words left empty are none', () => {
  const words = { ...wordsOf(null, null), gas: ' air ', shield: '  ' };
  const given = { speed_mm_min: 2100, cut_height_mm: 1.5, pierce_height_mm: 3.8, pierce_delay_s: 0 };
  assert.deepEqual(missingOf(given, words), ['thickness', 'where it comes from']);
  assert.equal(
    missingText(missingOf(given, words), false),
    'Still missing: thickness, where it comes from.',
  );
  assert.match(missingText([], true), /waits for your answer/);
  assert.equal(missingText([], false), '');
  const sent = requestOfRow(given, words, NOTHING_SAID, null);
  assert.deepEqual([sent.pierce_delay_s, sent.kerf_mm, sent.arc_voltage_v], [0, null, null]);
  assert.deepEqual([sent.gas, sent.shield_gas, sent.bed, sent.supersedes_id], ['air', null, null, null]);
});

void test('the torch in a run: before the first start, on a stroke, on the way to the next, at the end', () => {
  const stroke = (contour: number, from: number[], to: number[], seconds: number): Stroke => ({
    contour,
    band: 'at_speed',
    lead: false,
    points: [from, to],
    seconds,
  });
  const by = [[stroke(0, [10, 0], [20, 0], 2)], [stroke(1, [20, 30], [20, 40], 1)]];
  const movesOff = [1, 6];
  const at = (seconds: number) => {
    const { x, y, cutting, done } = placeAt(by, movesOff, seconds);
    return [x, y, cutting, done];
  };
  assert.deepEqual(at(0.5), [5, 0, false, 0]); // half of the second that it takes there from zero
  assert.deepEqual(at(2), [15, 0, true, 0]);
  assert.deepEqual(at(4.5), [20, 15, false, 1]); // half of the three seconds between
  assert.deepEqual(at(6.25), [20, 32.5, true, 1]);
  assert.deepEqual(at(100), [20, 40, false, 2]);
});

const CHOSEN: Chosen = {
  kind: 'square',
  count: 1,
  fitHoles: true,
  ownPartId: 7,
  plateId: 3,
  own: null,
};
const BATCH = [
  { number: 4, speed_mm_min: 2100, cut_height_mm: 1.5 },
  { number: 5, speed_mm_min: 2300, cut_height_mm: 1.2 },
] as const;

void test('what is programmed of squares is what was shown: their settings and their first number', () => {
  const asked = askedOf({ ...CHOSEN, count: 2 }, BATCH as never);
  assert.equal(asked.settings, '2100@1.5,2300@1.2');
  assert.deepEqual([asked.first, asked.count, asked.plate_id], [4, 2, 3]);
  // A part of one's own and holes that fit are asked of nothing else.
  assert.deepEqual([asked.own_part_id, asked.fit_holes], [null, false]);
  assert.equal(isReady(asked), true);
  assert.equal(isReady(askedOf(CHOSEN, undefined)), false); // nothing was shown yet
});

void test('a setting of one’s own is for one piece, and not for several squares', () => {
  const own = { speed_mm_min: 1900, cut_height_mm: 1.8 };
  assert.equal(askedOf({ ...CHOSEN, own }, BATCH as never).settings, '1900@1.8');
  assert.equal(askedOf({ ...CHOSEN, own, count: 2 }, BATCH as never).settings, '2100@1.5,2300@1.2');
  const slug = askedOf({ ...CHOSEN, kind: 'round', own, count: 2 }, BATCH as never);
  assert.deepEqual([slug.settings, slug.count, slug.first], ['1900@1.8', 1, null]);
});

void test('a part of one’s own is asked for once it is chosen', () => {
  const part = askedOf({ ...CHOSEN, kind: 'own_part' }, undefined);
  assert.deepEqual([part.own_part_id, part.fit_holes, isReady(part)], [7, true, true]);
  assert.equal(isReady(askedOf({ ...CHOSEN, kind: 'own_part', ownPartId: null }, undefined)), false);
});

void test('a unit is written as the trade writes it, and one that the table does not know as it is', () => {
  assert.deepEqual(['mm/s2', 'C', 'ft3/min', 'V', 'mm'].map(writtenUnit), [
    'mm/s²',
    '°C',
    'ft³/min',
    'V',
    'mm',
  ]);
});
