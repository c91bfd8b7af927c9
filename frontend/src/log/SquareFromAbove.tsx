import { showDegrees } from '../kit/units';
import { bevelOf, VOLTS, type Log, type Slot } from './log';
import { arrowOf } from '../kit/ways';
import styles from './log.module.css';

/** Where each edge of the square lies, seen from above with its clipped corner far right. */
const PLACE: Record<number, string> = { 0: 'far', 90: 'leftEdge', 180: 'near', 270: 'rightEdge' };

const MIRRORED: Record<number, string> = { 0: 'near', 90: 'rightEdge', 180: 'far', 270: 'leftEdge' };

function placeOf(slot: Slot): string {
  if (!slot.kept) return 'scrap';
  return (slot.side === 'right' ? PLACE : MIRRORED)[slot.heading_deg] ?? 'far';
}

/** The square as it lay on the table: tap an edge to read it again. */
export function SquareFromAbove({
  slots,
  log,
  choose,
}: {
  slots: readonly Slot[];
  log: Log;
  choose: (at: string) => void;
}) {
  return (
    <div className={styles.square}>
      <svg viewBox="0 0 100 100" className={styles.outline} aria-hidden="true">
        <path d="M4 4H76L96 24V96H4Z" fill="var(--plate)" stroke="none" />
      </svg>
      <span className={styles.clip}>clipped corner away from you</span>
      {slots.map((s) => {
        const id = s.key;
        const bevel = bevelOf(log.edges[id]);
        const outside = bevel !== null && Math.abs(bevel) > log.sheet.allowed_deg;
        return (
          <button
            key={id}
            type="button"
            className={`${styles.edge ?? ''} ${styles[placeOf(s)] ?? ''}`}
            data-at={log.at === id}
            data-slot={id}
            onFocus={() => choose(id)}
            aria-pressed={log.at === id}
            onClick={() => choose(id)}
            aria-label={`${s.label}: ${showDegrees(bevel)}`}
          >
            {!s.kept && <small>scrap bar</small>}
            <strong>{bevel === null ? '–' : showDegrees(bevel)}</strong>
            <small>
              {arrowOf(s.heading_deg)}{' '}
              {bevel === null
                ? ''
                : s.kept
                  ? outside
                    ? `past ${log.sheet.allowed_deg}°`
                    : 'within'
                  : ''}
            </small>
          </button>
        );
      })}
      <button
        type="button"
        className={`${styles.edge ?? ''} ${styles.volts ?? ''}`}
        data-at={log.at === VOLTS}
        data-slot={VOLTS}
        onFocus={() => choose(VOLTS)}
        aria-pressed={log.at === VOLTS}
        onClick={() => choose(VOLTS)}
      >
        <small>arc voltage</small>
        <strong>{log.volts === '' ? '–' : `${log.volts} V`}</strong>
      </button>
    </div>
  );
}
