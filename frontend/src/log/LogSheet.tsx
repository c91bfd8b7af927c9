import Dialog from '@mui/material/Dialog';
import useMediaQuery from '@mui/material/useMediaQuery';
import { useEffect, useRef, useState } from 'react';
import { useQueryClient } from '@tanstack/react-query';
import { KerfSection } from '../kit/KerfSection';
import { Notice } from '../kit/Notice';
import { useStillReading } from '../kit/reading';
import { showDegrees, type ShopUnits } from '../kit/units';
import { AsCut } from './AsCut';
import { Keypad } from './Keypad';
import {
  anythingTyped,
  bevelOf,
  digit,
  enter,
  erase,
  next,
  back,
  isTapped,
  leansUnder,
  moreDross,
  sign,
  isComb,
  methodOf,
  onceMore,
  point,
  take,
  tapDross,
  tenfold,
  VOLTS,
  type Log,
  type Slot,
} from './log';
import styles from './log.module.css';
import type { Bench, Cut } from '../kit/client';
import { draftKey, keepHere, throwAway } from './openLog';
import { CombSheet } from './CombSheet';
import { ItemsSheet } from './ItemsSheet';
import { LookCloser } from './LookCloser';
import type { Measured } from './MeasurePhoto';
import { Lengths, MethodBar } from './MethodBar';
import { MoreOfIt } from './MoreOfIt';
import { Photos } from './Photos';
import { Questions } from './Questions';
import { Match } from '../kit/Match';
import { useSay } from '../kit/undo';
import { WhatWasCut } from './WhatWasCut';
import { useSaveLog } from './saveLog';
import { SquareFromAbove } from './SquareFromAbove';

interface Props {
  bench: Bench;
  units: ShopUnits;
  start: Log;
  onClose: () => void;
}

/** Turn it over and log it: gloved thumb on a keypad, the kerf drawn as it is typed. */
export function LogSheet({ bench, units, start, onClose }: Props) {
  const { trial } = bench;
  const [log, setLog] = useState(start);
  const reading = useStillReading();
  const latest = useRef(log);
  useEffect(() => {
    latest.current = log;
  });
  const save = useSaveLog(bench, log, setLog, onClose);
  const narrow = useMediaQuery('(max-width: 1060px)');
  const change = (to: Log) => {
    if (to.cutId === null) keepHere(trial.id, anythingTyped(to) ? to : null);
    setLog(to);
  };
  const correcting = log.cutId !== null;
  const update = (to: (now: Log) => Log) => change(to(latest.current));
  const [chosen, setShown] = useState<Shown | null>(null);
  const shown = tabsOf(log).find((t) => t === chosen) ?? tabsOf(log)[0] ?? 'more';
  useKeys(log, change, {
    save: () => {
      if (!reading) save.save();
    },
    toEdges: () => {
      if (bodyOf(latest.current) === 'edges') setShown('edges');
    },
  });
  const say = useSay();
  const queries = useQueryClient();
  const discard = () => {
    const refresh = () => queries.invalidateQueries({ queryKey: draftKey(trial.id) });
    void throwAway(trial.id).then(async (restore) => {
      await refresh();
      say({ text: 'Thrown away.', undo: () => void restore().then(refresh) });
      onClose();
    });
  };
  return (
    <Dialog open fullScreen onClose={onClose} aria-labelledby="log-title" transitionDuration={0}>
      <div className={styles.sheet}>
        <header>
          <h1 id="log-title">
            {correcting
              ? 'Correct the cut'
              : isComb(log)
                ? 'Turn the strips over'
                : log.number
                  ? `Turn piece ${log.number} over`
                  : 'Turn it over'}
          </h1>
          <AsCut log={log} units={units} change={(to) => change({ ...latest.current, ...to })} />
          {!correcting && log.number === null && (
            <WhatWasCut trialId={trial.id} log={log} change={change} />
          )}
          {!correcting && anythingTyped(log) && (
            <button type="button" onClick={discard}>
              Throw it away
            </button>
          )}
          <button type="button" onClick={onClose}>
            {correcting ? 'Leave it' : anythingTyped(log) ? 'Later: keep what is typed' : 'Later'}
          </button>
        </header>
        <div className={styles.body} data-kind={layoutOf(log, shown)}>
          <div className={styles.seen}>
            <Tabs log={log} shown={shown} onShow={setShown} />
            {/* Kept while they are not seen: what was typed last may still be read. */}
            <div hidden={shown !== 'more'} className={styles.moreFrame}>
              <MoreOfIt log={log} units={units} change={(to) => change({ ...latest.current, ...to })} />
            </div>
            <div hidden={shown !== 'look'} className={styles.moreFrame}>
              <LookCloser
                log={log}
                item={0}
                asked={log.sheet.looks_whole}
                units={units}
                change={update}
              />
            </div>
            {shown === 'photos' && (
              <Photos
                trialId={trial.id}
                of={log.cutId === null ? { log_key: log.key } : { cut_id: log.cutId }}
                units={units}
                edge={log.at === VOLTS ? undefined : labelOf(log)}
                onMeasured={(measured) => {
                  update((now) => takeMeasured(now, measured));
                  say({ text: measuredText(measured) });
                }}
              />
            )}
            {shown === 'items' &&
              (isComb(log) ? (
                <CombSheet log={log} units={units} change={update} />
              ) : (
                <ItemsSheet log={log} units={units} change={update} />
              ))}
            {shown === 'edges' && <Edges log={log} choose={(at) => change({ ...latest.current, at })} />}
            {!narrow && shown === 'edges' && log.sheet.slots.length <= ROOM_BESIDE_PICTURE && (
              <LiveSection bench={bench} log={log} />
            )}
          </div>
          {shown === 'edges' && (
            <div className={styles.keypad}>
              <MethodBar log={log} change={change} />
              {onPhoto(log) ? (
                <div className={styles.lengths}>
                  <p className={styles.reading}>
                    <span>{labelOf(log)}</span>
                    <output className="number">{typed(log) || '–'}</output>
                  </p>
                  <p className={styles.hint}>{methodOf(log)?.mind}</p>
                  <button type="button" onClick={() => setShown('photos')}>
                    To the photos
                  </button>
                </div>
              ) : byLengths(log) ? (
                <Lengths
                  log={log}
                  trialId={trial.id}
                  units={units}
                  label={labelOf(log)}
                  change={change}
                />
              ) : (
                <Keypad
                  at={log.at === VOLTS ? 'volts' : 'bevel'}
                  value={log.at === VOLTS ? log.volts : typed(log)}
                  label={labelOf(log)}
                  negative={leansUnder(log)}
                  onDigit={(d) => change(digit(log, d))}
                  onSign={(negative) => change(sign(log, negative))}
                  onErase={() => change(erase(log))}
                  onNext={() => change(next(log))}
                  onTenfold={() => change(tenfold(log))}
                  onAgain={() => change(onceMore(log))}
                />
              )}
            </div>
          )}
          {bodyOf(log) !== 'comb' && log.sheet.underside && <Underside log={log} change={change} />}
        </div>
        {!correcting && bodyOf(log) === 'edges' && (
          <Questions trialId={trial.id} log={log} change={change} />
        )}
        {save.conflict && (
          <Conflict theirs={save.conflict} log={log} onTheirs={onClose} onMine={save.saveOver} />
        )}
        {save.elsewhere && <Notice kind="note">{save.elsewhere}</Notice>}
        {save.refused && !save.conflict && <Notice kind="refusal">{save.refused}</Notice>}
        <footer>
          <span>{missingText(log, reading)}</span>
          <button
            type="button"
            className={styles.save}
            disabled={save.saving || reading}
            onClick={save.save}
          >
            {correcting ? 'Save the correction' : isComb(log) ? 'Save the strips' : 'Save the cut'}
          </button>
        </footer>
      </div>
    </Dialog>
  );
}

type Shown = 'edges' | 'items' | 'look' | 'more' | 'photos';

const TABS: Record<Shown, string> = {
  edges: 'Edges',
  items: 'Each of them',
  look: 'Look closer',
  more: 'Kerf, arc, note',
  photos: 'Photos',
};

/** What there is to go through of this piece, in turning order. */
function tabsOf(log: Log): Shown[] {
  const { slots, items, looks_whole: whole } = log.sheet;
  const has: Record<Shown, boolean> = {
    items: items.length > 0,
    edges: slots.length > 0 && !isComb(log),
    look: whole.length > 0,
    more: !isComb(log),
    photos: !isComb(log),
  };
  return (['edges', 'items', 'look', 'more', 'photos'] as const).filter((k) => has[k]);
}

function Tabs({ log, shown, onShow }: { log: Log; shown: Shown; onShow: (to: Shown) => void }) {
  const kinds = tabsOf(log);
  if (kinds.length < 2) return null;
  return (
    <div className={styles.tabs} role="group" aria-label="What to look at">
      {kinds.map((k) => (
        <button key={k} type="button" aria-pressed={shown === k} onClick={() => onShow(k)}>
          {TABS[k]}
        </button>
      ))}
    </div>
  );
}

/** How the sheet is laid out: round edges to read, a comb of slots, or things to look at one by one. */
function bodyOf(log: Log): 'edges' | 'comb' | 'items' {
  if (isComb(log)) return 'comb';
  return log.sheet.slots.length > 0 ? 'edges' : 'items';
}

/** Three columns beside a keypad, two beside the underside, or one. */
function layoutOf(log: Log, shown: Shown): 'edges' | 'items' | 'comb' {
  if (shown === 'edges') return 'edges';
  return log.sheet.underside && !isComb(log) ? 'items' : 'comb';
}

const byLengths = (log: Log): boolean => log.at !== VOLTS && methodOf(log)?.unit === 'mm';

const onPhoto = (log: Log): boolean => log.at !== VOLTS && methodOf(log)?.unit === 'px';

function takeMeasured(log: Log, measured: Measured): Log {
  const { what, deg, u_deg: u, mm } = measured;
  if (what === 'kerf') return { ...log, kerf_mm: mm ?? log.kerf_mm };
  if (typeof deg !== 'number') return log;
  if (what === 'lag') return { ...log, lag_deg: Math.round(deg * 10) / 10 };
  if (log.at === VOLTS) return log;
  return take(log, { bevel_deg: deg, u_deg: u ?? 1, method: 'photo', told: 'tapped on a photo' });
}

function measuredText({ what }: Measured): string {
  return what === 'bevel'
    ? 'The bevel is taken from the photo.'
    : `The ${what} is taken from the photo.`;
}

function typed(log: Log): string {
  const entry = log.edges[log.at];
  if (entry?.typed !== undefined) return `${entry.negative ? '−' : '+'}${entry.typed}°`;
  const bevel = bevelOf(entry);
  return bevel === null ? '' : showDegrees(bevel);
}

function labelOf(log: Log): string {
  if (log.at === VOLTS) return 'Arc voltage seen, steady';
  return log.sheet.slots.find((s) => s.key === log.at)?.label ?? '';
}

/** More readings than these take the height of the picture below them. */
const ROOM_BESIDE_PICTURE = 6;

/** A square as it lay on the table; of another piece, or of edges read otherwise, a plain list. */
function Edges({ log, choose }: { log: Log; choose: (at: string) => void }) {
  const { slots, piece } = log.sheet;
  const places = new Set(slots.map((s) => `${s.kept} ${s.heading_deg}`));
  const asDrawn =
    piece === 'square' &&
    places.size === slots.length &&
    slots.every((s) => s.side !== 'both' && s.heading_deg % 90 === 0) &&
    slots.filter((s) => !s.kept).length <= 1;
  if (asDrawn) return <SquareFromAbove slots={slots} log={log} choose={choose} />;
  return (
    <ul className={styles.edgeList}>
      {slots.map((s) => (
        <li key={s.key}>
          <button
            type="button"
            data-slot={s.key}
            aria-pressed={log.at === s.key}
            onFocus={() => choose(s.key)}
            onClick={() => choose(s.key)}
          >
            {s.label} <strong>{showDegrees(bevelOf(log.edges[s.key]))}</strong>
          </button>
        </li>
      ))}
      <li>
        <button
          type="button"
          data-slot={VOLTS}
          aria-pressed={log.at === VOLTS}
          onFocus={() => choose(VOLTS)}
          onClick={() => choose(VOLTS)}
        >
          Arc voltage <strong>{log.volts === '' ? 'not read' : `${log.volts} V`}</strong>
        </button>
      </li>
    </ul>
  );
}

const slotSeen = (log: Log, slot: number): boolean =>
  log.strips[slot]?.answer !== undefined ||
  typeof log.strips[slot]?.volts === 'number' ||
  log.sheet.slots.some((s) => s.item === slot && bevelOf(log.edges[s.key]) !== null);

function missingText(log: Log, waitsForAnswer: boolean): string {
  if (isComb(log)) {
    const slots = log.sheet.items.filter((i) => slotSeen(log, i.number)).length;
    return `${slots} of ${log.sheet.items.length} slots looked at. What is left out stays unknown.`;
  }
  if (waitsForAnswer) return 'A number above waits for your answer: it is kept once you say.';
  if (log.sheet.slots.length === 0) return 'What is left out stays unknown.';
  const unread = log.sheet.slots.filter(
    (s) => s.kept && s.side !== 'both' && bevelOf(log.edges[s.key]) === null,
  ).length;
  const missing = [
    log.through === null ? 'whether it dropped' : '',
    unread > 0 ? `${unread} kept ${unread === 1 ? 'edge' : 'edges'}` : '',
    log.volts === '' ? 'volts' : '',
    log.dross === null ? 'the underside' : '',
  ].filter(Boolean);
  return missing.length === 0
    ? 'All there.'
    : `Not read yet: ${missing.join(', ')}. What is left out stays unknown.`;
}

function LiveSection({ bench, log }: { bench: Bench; log: Log }) {
  const { trial } = bench;
  const mean = (side: 'left' | 'right'): number | null => {
    const read = log.sheet.slots
      .filter((s: Slot) => s.side === side || s.side === 'both')
      .map((s) => bevelOf(log.edges[s.key]))
      .filter((b) => b !== null);
    return read.length === 0 ? null : read.reduce((a, b) => a + b, 0) / read.length;
  };
  const { dross } = log;
  const bottom =
    dross === null
      ? null
      : (['low_speed', 'high_speed'] as const).flatMap((kind) => {
          const grade = dross[kind] ?? 0;
          return grade > 0 ? [{ kind, grade }] : [];
        });
  return (
    <KerfSection
      thicknessMm={trial.thickness_mm}
      kerfMm={trial.start.kerf_mm}
      leftDeg={mean('left')}
      rightDeg={mean('right')}
      goodSide={trial.good_side}
      bothSides={trial.target.sides === 'both'}
      dross={bottom && log.spatter ? [...bottom, { kind: 'top_spatter', grade: 1 }] : bottom}
      toleranceDeg={trial.target.bevel_deg}
      through={log.through}
    />
  );
}

function Underside({ log, change }: { log: Log; change: (to: Log) => void }) {
  return (
    <div className={styles.underside}>
      <fieldset>
        <legend>Did it drop?</legend>
        <div className={styles.row}>
          {log.sheet.through.map((t) => (
            <button
              key={t.value}
              type="button"
              aria-pressed={log.through === t.value}
              onClick={() => change({ ...log, through: t.value as Log['through'] })}
            >
              {t.label}
            </button>
          ))}
        </div>
      </fieldset>
      <fieldset>
        <legend>Underside: how does it come off?</legend>
        <div className={styles.dross}>
          {log.sheet.dross.map((d) => (
            <button
              key={`${d.kind} ${d.grade}`}
              type="button"
              aria-pressed={isTapped(log.dross, d.kind, d.grade)}
              onClick={() => change(tapDross(log, d.kind, d.grade))}
            >
              {d.label}
              <small>{d.effort}</small>
              {d.kind && d.kind !== 'top_spatter' && (
                <Match picture="grade" value={String(d.grade)} kind={d.kind} />
              )}
            </button>
          ))}
        </div>
        <p className={styles.hint}>{log.sheet.dross_looks}</p>
        <button
          type="button"
          className={styles.spatter}
          aria-pressed={log.spatter}
          onClick={() => change({ ...log, spatter: !log.spatter })}
        >
          Spatter on top
        </button>
      </fieldset>
    </div>
  );
}

/** Somebody else corrected this cut: both are shown, and the operator says which stands. */
function Conflict({
  theirs,
  log,
  onTheirs,
  onMine,
}: {
  theirs: Cut;
  log: Log;
  onTheirs: () => void;
  onMine: () => void;
}) {
  const kept = log.sheet.slots.filter((s) => s.kept && s.edge_id);
  const theirsOf = (s: Slot) => theirs.edges.find((e) => e.id === s.edge_id)?.bevel_deg;
  return (
    <Notice kind="refusal" title="Changed on another screen meanwhile">
      <span className={styles.both}>
        Theirs: {kept.map((s) => showDegrees(theirsOf(s))).join(', ')}. Yours:{' '}
        {kept.map((s) => showDegrees(bevelOf(log.edges[s.key]))).join(', ')}. Only what you changed is
        saved over theirs.
      </span>
      <span className={styles.row}>
        <button type="button" onClick={onTheirs}>
          Leave theirs
        </button>
        <button type="button" onClick={onMine}>
          Save mine
        </button>
      </span>
    </Notice>
  );
}

/** What each key does to the log; the list on ? says the same. */
const ACTS: Record<string, (log: Log, key: string) => Log> = {
  digit: (log, key) => digit(log, key),
  '-': (log) => sign(log, !leansUnder(log)),
  '.': (log) => point(log),
  ',': (log) => point(log),
  a: (log) => onceMore(log),
  Backspace: (log) => erase(log),
  Enter: (log) => enter(log),
  ArrowRight: (log) => next(log),
  ArrowDown: (log) => next(log),
  ArrowLeft: (log) => back(log),
  ArrowUp: (log) => back(log),
  v: (log) => ({ ...log, at: VOLTS }),
  d: (log) => ({ ...log, through: 'full' }),
  h: (log) => ({ ...log, through: 'partial' }),
  n: (log) => ({ ...log, through: 'none' }),
  x: (log) => tapDross(log, null, 0),
  c: (log) => moreDross(log, 'low_speed'),
  b: (log) => moreDross(log, 'high_speed'),
  s: (log) => ({ ...log, spatter: !log.spatter }),
};

/** Keys that say something of an edge or of the volts: they bring those back to sight. */
const OF_EDGES = /^(digit|[-.,av]|Backspace|Arrow.*)$/;

function useKeys(log: Log, change: (to: Log) => void, acts: { save: () => void; toEdges: () => void }) {
  const latest = useRef({ log, change, ...acts });
  useEffect(() => {
    latest.current = { log, change, ...acts };
  });
  useEffect(() => {
    // Whoever goes by Tab stays on the reading at hand when digits have filled the one before.
    const held = document.activeElement;
    if (held instanceof HTMLElement && held.dataset['slot'] && held.dataset['slot'] !== log.at)
      document.querySelector<HTMLElement>(`[data-slot="${log.at}"]`)?.focus();
  }, [log.at]);
  useEffect(() => {
    const pressed = (e: KeyboardEvent) => {
      const now = latest.current;
      if (!(e.target instanceof HTMLElement) || e.target.closest('input, textarea, select')) return;
      if (e.key === 'Enter' && e.ctrlKey) {
        now.save();
        e.preventDefault();
        return;
      }
      if (e.ctrlKey || e.metaKey || e.altKey) return;
      const onKey = e.target instanceof HTMLButtonElement && !e.target.dataset['slot'];
      if (e.key === 'Enter' && onKey) return; // presses that button
      const key = /^\d$/.test(e.key) ? 'digit' : e.key;
      const act = ACTS[key.length === 1 ? key.toLowerCase() : key];
      if (!act || now.log.sheet.slots.length === 0) return;
      if (OF_EDGES.test(key)) now.toEdges();
      now.change(act(now.log, e.key));
      e.preventDefault();
    };
    window.addEventListener('keydown', pressed);
    return () => window.removeEventListener('keydown', pressed);
  }, []);
}
