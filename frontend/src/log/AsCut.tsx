import { useState } from 'react';
import { QuantityField } from '../kit/QuantityField';
import { showLength, showSpeed, type ShopUnits } from '../kit/units';
import type { Log } from './log';
import styles from './log.module.css';

/** The settings this piece was cut with: as advised, unless the operator cut it otherwise. */
export function AsCut({
  log,
  units,
  change,
}: {
  log: Log;
  units: ShopUnits;
  change: (to: Partial<Log>) => void;
}) {
  const [open, setOpen] = useState(false);
  const speed = showSpeed(log.speed_mm_min, units);
  const height = showLength(log.cut_height_mm, units);
  if (!open) {
    return (
      <button type="button" className={styles.asCut} onClick={() => setOpen(true)}>
        {speed.text} {speed.unit} at {height.text} {height.unit} <small>cut otherwise?</small>
      </button>
    );
  }
  return (
    <div className={styles.otherwise}>
      <QuantityField
        label="Speed as cut"
        quantity="speed"
        unit={units.speed_unit}
        initial={speed.text}
        expected={log.speed_mm_min}
        onRead={(v) => v !== null && change({ speed_mm_min: v })}
      />
      <QuantityField
        label="Height as cut"
        quantity="length"
        unit={units.length_unit}
        initial={height.text}
        expected={log.cut_height_mm}
        onRead={(v) => v !== null && change({ cut_height_mm: v })}
      />
    </div>
  );
}
