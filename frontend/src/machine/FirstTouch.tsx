import { useState } from 'react';
import { Notice } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import type { ShopUnits } from '../kit/units';
import type { Check } from './checks';
import { FEELER_U_MM } from '../kit/words.gen';
import styles from './motion.module.css';
import { SaidSo } from './SaidSo';

/** Whether the torch comes to the height that it is told. */
export function FirstTouch({ tableId, units }: { tableId: number; units: ShopUnits }) {
  const [told, setTold] = useState<number | null>(null);
  const [found, setFound] = useState<number | null>(null);
  const check: Check | null =
    told === null || found === null
      ? null
      : { kind: 'touch_height', told_mm: told, found_mm: found, u_mm: FEELER_U_MM };
  return (
    <div className={styles.columns}>
      <div className={styles.asked}>
        <p>
          Touch off on a clean, flat piece, let the torch rise to a cut height, and stop there. What
          feelers just slide under it?
        </p>
        <Notice kind="caution">
          Isolate the plasma source before feelers or fingers go under the torch: a start signal must not
          reach it.
        </Notice>
        <div className={styles.fields}>
          <QuantityField
            label="Height it was told"
            quantity="length"
            unit={units.length_unit}
            onRead={setTold}
          />
          <QuantityField
            label="Gap that was found"
            quantity="length"
            unit={units.length_unit}
            onRead={setFound}
          />
        </div>
      </div>
      <div className={styles.says}>
        <SaidSo tableId={tableId} check={check} before="Both heights: what they say stands here." />
      </div>
    </div>
  );
}
