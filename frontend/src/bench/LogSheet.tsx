import Dialog from '@mui/material/Dialog';
import useMediaQuery from '@mui/material/useMediaQuery';
import { useEffect, useRef, useState } from 'react';
import { KerfSection } from '../kit/KerfSection';
import { Notice } from '../kit/Notice';
import { useStillReading } from '../kit/reading';
import { showDegrees, type ShopUnits } from '../kit/units';
import { AsCut } from './AsCut';
import { Keypad } from './Keypad';
import {
  bevelOf,
  digit,
  erase,
  next,
  sign,
  slotId,
  slots,
  tenfold,
  VOLTS,
  type DrossAnswer,
  type Log,
} from './log';
import styles from './log.module.css';
import type { Bench, Cut } from './model';
import { keepHere } from './openLog';
import { useSaveLog } from './saveLog';
import { SquareFromAbove } from './SquareFromAbove';

interface Props {
  bench: Bench;
  units: ShopUnits;
  start: Log;
  onClose: () => void;
}

const DROSS: { answer: DrossAnswer; label: string; effort: string }[] = [
  { answer: 'none', label: 'None', effort: 'clean underside' },
  ...([1, 2, 3, 4] as const).map((grade) => ({
    answer: { kind: 'low_speed' as const, grade },
    label: 'Chunks',
    effort: ['', 'brushes off', 'scraper', 'hammer', 'grinder'][grade] ?? '',
  })),
  ...([1, 2, 3, 4] as const).map((grade) => ({
    answer: { kind: 'high_speed' as const, grade },
    label: 'Hard bead',
    effort: ['', 'brushes off', 'scraper', 'hammer', 'grinder'][grade] ?? '',
  })),
];

const sameDross = (a: DrossAnswer | null, b: DrossAnswer): boolean =>
  JSON.stringify(a) === JSON.stringify(b);

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
    if (to.cutId === null) keepHere(trial.id, to);
    setLog(to);
  };
  useKeys(log, trial, change, () => {
    if (!reading) save.save();
  });
  const correcting = log.cutId !== null;
  return (
    <Dialog open fullScreen onClose={onClose} aria-labelledby="log-title" transitionDuration={0}>
      <div className={styles.sheet}>
        <header>
          <h1 id="log-title">
            {correcting
              ? 'Correct the cut'
              : log.number
                ? `Turn piece ${log.number} over`
                : 'Turn it over'}
          </h1>
          <AsCut log={log} units={units} change={(to) => change({ ...latest.current, ...to })} />
          <button type="button" onClick={onClose}>
            {correcting ? 'Leave it' : 'Later: keep what is typed'}
          </button>
        </header>
        <div className={styles.body}>
          <div className={styles.seen}>
            <SquareFromAbove trial={trial} log={log} choose={(at) => change({ ...log, at })} />
            {!narrow && <LiveSection bench={bench} log={log} />}
          </div>
          <Keypad
            at={log.at === VOLTS ? 'volts' : 'bevel'}
            value={log.at === VOLTS ? log.volts : typed(log)}
            label={labelOf(log, bench)}
            negative={log.edges[log.at]?.negative ?? log.negative}
            onDigit={(d) => change(digit(log, trial, d))}
            onSign={(negative) => change(sign(log, negative))}
            onErase={() => change(erase(log))}
            onNext={() => change(next(log, trial))}
            onTenfold={() => change(tenfold(log, trial))}
          />
          <Underside log={log} change={change} />
        </div>
        {save.conflict && (
          <Conflict
            theirs={save.conflict}
            log={log}
            trialGood={trial.good_side}
            onTheirs={onClose}
            onMine={save.saveOver}
          />
        )}
        {save.refused && !save.conflict && <Notice kind="refusal">{save.refused}</Notice>}
        <footer>
          <span>{missingText(log, trial)}</span>
          <button
            type="button"
            className={styles.save}
            disabled={save.saving || reading}
            onClick={save.save}
          >
            {correcting ? 'Save the correction' : 'Save the cut'}
          </button>
        </footer>
      </div>
    </Dialog>
  );
}

function typed(log: Log): string {
  const bevel = bevelOf(log.edges[log.at]);
  return bevel === null ? '' : showDegrees(bevel);
}

function labelOf(log: Log, bench: Bench): string {
  if (log.at === VOLTS) return 'Arc voltage seen, steady';
  const slot = slots(bench.trial).find((s) => slotId(s) === log.at);
  return slot
    ? `${slot.kept ? 'Kept edge' : 'Near edge of the scrap bar'}, ${compass(slot.heading)}`
    : '';
}

function compass(heading: number): string {
  return (
    { 0: 'cut to the right', 90: 'cut away from you', 180: 'cut to the left', 270: 'cut toward you' }[
      heading
    ] ?? `${heading}°`
  );
}

function missingText(log: Log, trial: Bench['trial']): string {
  const unread = slots(trial).filter((s) => s.kept && bevelOf(log.edges[slotId(s)]) === null).length;
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
    const read = slots(trial)
      .filter((s) => s.side === side)
      .map((s) => bevelOf(log.edges[slotId(s)]))
      .filter((b) => b !== null);
    return read.length === 0 ? null : read.reduce((a, b) => a + b, 0) / read.length;
  };
  const bottom = log.dross === null ? null : log.dross === 'none' ? [] : [log.dross];
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
          {(['full', 'partial', 'none'] as const).map((t) => (
            <button
              key={t}
              type="button"
              aria-pressed={log.through === t}
              onClick={() => change({ ...log, through: t })}
            >
              {{ full: 'Dropped', partial: 'Hung on', none: 'Not through' }[t]}
            </button>
          ))}
        </div>
      </fieldset>
      <fieldset>
        <legend>Underside: how does it come off?</legend>
        <div className={styles.dross}>
          {DROSS.map((d) => (
            <button
              key={JSON.stringify(d.answer)}
              type="button"
              aria-pressed={sameDross(log.dross, d.answer)}
              onClick={() => change({ ...log, dross: d.answer })}
            >
              {d.label}
              <small>{d.effort}</small>
            </button>
          ))}
        </div>
        <p className={styles.hint}>
          Chunks: thick and bubbly, the cut ran slow. Hard bead: thin and welded on, it ran fast.
        </p>
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
  trialGood,
  onTheirs,
  onMine,
}: {
  theirs: Cut;
  log: Log;
  trialGood: string;
  onTheirs: () => void;
  onMine: () => void;
}) {
  const rows = theirs.edges.filter((e) => e.side === trialGood);
  return (
    <Notice
      kind="refusal"
      title={`Changed on another screen${theirs.logged_by ? ` by ${theirs.logged_by}` : ''} meanwhile`}
    >
      <span className={styles.both}>
        Theirs: {rows.map((e) => showDegrees(e.bevel_deg)).join(', ')}. Yours:{' '}
        {rows
          .map((e) => showDegrees(bevelOf(log.edges[slotId({ side: e.side, heading: e.heading_deg })])))
          .join(', ')}
        .
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

function useKeys(log: Log, trial: Bench['trial'], change: (to: Log) => void, save: () => void) {
  const latest = useRef({ log, trial, change, save });
  useEffect(() => {
    latest.current = { log, trial, change, save };
  });
  useEffect(() => {
    const pressed = (e: KeyboardEvent) => {
      const now = latest.current;
      if (e.target instanceof HTMLElement && e.target.closest('input, textarea')) return;
      if (/^\d$/.test(e.key)) now.change(digit(now.log, now.trial, e.key));
      else if (e.key === '-')
        now.change(sign(now.log, !(now.log.edges[now.log.at]?.negative ?? now.log.negative)));
      else if (e.key === 'Backspace') now.change(erase(now.log));
      else if (e.key === 'Enter' && e.ctrlKey) now.save();
      else if (e.key === 'Enter' && !(e.target instanceof HTMLButtonElement))
        now.change(next(now.log, now.trial));
      else return;
      e.preventDefault();
    };
    window.addEventListener('keydown', pressed);
    return () => window.removeEventListener('keydown', pressed);
  }, []);
}
