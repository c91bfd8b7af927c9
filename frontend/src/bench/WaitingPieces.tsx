import type { Schema } from '../kit/client';
import { showLength, showSpeed, type ShopUnits } from '../kit/units';
import styles from './bench.module.css';
import { NickCode } from './NickCode';

type Waiting = Schema['WaitingPiece'];

/** The pieces that are cut and not yet read: the nicks in the edge say which one is in the hand. */
export function WaitingPieces({
  waiting,
  units,
  onRead,
}: {
  waiting: Waiting[];
  units: ShopUnits;
  onRead: (piece: Waiting) => void;
}) {
  return (
    <section className={styles.waits} aria-labelledby="waits">
      <h3 id="waits">
        {waiting.length === 1
          ? 'One piece is cut: turn it over'
          : `${waiting.length} pieces are cut: turn one over`}
      </h3>
      <div>
        {waiting.map((w) => (
          <button key={w.id} type="button" onClick={() => onRead(w)}>
            <NickCode nicks={w.nicks} />
            <span>
              <strong>Piece {w.number}</strong>
              <small className="number">
                {showSpeed(w.speed_mm_min, units).text} {units.speed_unit},{' '}
                {showLength(w.cut_height_mm, units).text} {units.length_unit}
              </small>
            </span>
          </button>
        ))}
      </div>
    </section>
  );
}
