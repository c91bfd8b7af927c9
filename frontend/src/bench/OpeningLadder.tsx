import { showSpeed, type ShopUnits } from '../kit/units';
import styles from './bench.module.css';
import type { Bench } from './model';

/** A metal without rows begins here: five speeds at one height, and which came out clean. */
export function OpeningLadder({ bench, units }: { bench: Bench; units: ShopUnits }) {
  const speeds = bench.now.ladder.map((s) => showSpeed(s.speed_mm_min, units).text);
  return (
    <p className={styles.why}>
      No rows for this metal, so first a coarse ladder: strips at <strong>{speeds.join(', ')}</strong>{' '}
      {units.speed_unit}, all at this one height, height control off.
    </p>
  );
}
