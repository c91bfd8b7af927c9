import type { Schema } from '../kit/client';
import { showLength, type ShopUnits } from '../kit/units';
import type { Axis } from './queries';
import styles from './alignment.module.css';

/** As the sentence beside it rounds: 0.85 is 0.9. */
const tenths = (deg: number): string => (Math.round(Math.abs(deg) * 10) / 10).toFixed(1);

/** The turns in the order in which they are made, and what they leave. */
export function Turns({
  found,
  axes,
  units,
}: {
  found: Schema['AlignmentFile'];
  axes: readonly Axis[];
  units: ShopUnits;
}) {
  if (found.corrections.length === 0) return null;
  return (
    <>
      <ol className={styles.turns}>
        {found.corrections.map((turn) => {
          const moved = turn.move_mm === null ? null : showLength(Math.abs(turn.move_mm), units);
          return (
            <li key={turn.axis}>
              <strong>
                {turn.axis === 'itself' ? 'The barrel in its clamp' : turn.axis}
                <span className="number">{tenths(turn.turn_deg)}°</span>
              </strong>
              {moved && (
                <em>
                  {moved.text} {moved.unit} at the adjuster
                </em>
              )}
              <p>{turn.why}</p>
            </li>
          );
        })}
      </ol>
      <p className={styles.soft}>
        {found.left_over_deg < 0.05
          ? 'That leaves nothing that is known of.'
          : `That leaves ${found.left_over_deg.toFixed(1)}°${axes.length === 1 ? ', which one axis cannot reach' : ''}.`}
      </p>
    </>
  );
}
