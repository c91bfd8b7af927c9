import type { Bench } from '../kit/client';
import { KerfSection } from '../kit/KerfSection';
import { showDegrees } from '../kit/units';
import { bevelOf, VOLTS, type Log, type Slot } from './log';
import styles from './log.module.css';
import { SquareFromAbove } from './SquareFromAbove';

/** A square as it lay on the table; of another piece, or of edges read otherwise, a plain list. */
export function Edges({ log, choose }: { log: Log; choose: (at: string) => void }) {
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

/** The cut end-on as it is typed. */
export function LiveSection({ bench, log }: { bench: Bench; log: Log }) {
  const { trial } = bench;
  const mean = (side: 'left' | 'right'): number | null => {
    const read = log.sheet.slots
      .filter((s: Slot) => s.side === side || s.side === 'both')
      .map((s) => bevelOf(log.edges[s.key]))
      .filter((b) => b !== null);
    return read.length === 0 ? null : read.reduce((a, b) => a + b, 0) / read.length;
  };
  // Of the kept edges, the one farthest from square: a mean inside is no edge inside.
  const worst = log.sheet.slots
    .filter((s) => s.kept)
    .map((s) => bevelOf(log.edges[s.key]))
    .filter((b) => b !== null)
    .reduce<number | null>(
      (most, b) => (most === null || Math.abs(b) > Math.abs(most) ? b : most),
      null,
    );
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
      worstDeg={worst}
      through={log.through}
    />
  );
}
