import type { Schema } from '../kit/client';
import { Choices } from '../kit/Choices';
import { showLength, showSpeed, type ShopUnits } from '../kit/units';
import { NickCode } from './NickCode';
import styles from './piece.module.css';

const COUNTS = [1, 2, 3, 4, 6].map((n) => ({ value: n, label: String(n) }));

/** How many squares at once, and at which settings: each is told by the nicks in its near edge. */
export function SquaresAtOnce({
  count,
  batch,
  units,
  onChoose,
}: {
  count: number;
  batch: Schema['PieceInBatch'][];
  units: ShopUnits;
  onChoose: (count: number) => void;
}) {
  return (
    <>
      <Choices label="How many at once" value={count} choices={COUNTS} onChoose={onChoose} />
      {count > 1 && (
        <ul className={styles.batch}>
          {batch.map((b) => (
            <li key={b.number}>
              <NickCode nicks={b.nicks} />
              <strong className="number">{b.number}</strong>
              <span className="number">
                {showSpeed(b.speed_mm_min, units).text} <small>{units.speed_unit}</small>
              </span>
              <span className="number">
                {showLength(b.cut_height_mm, units).text} <small>{units.length_unit}</small>
              </span>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
