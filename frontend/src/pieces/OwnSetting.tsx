import { useState } from 'react';
import { QuantityField } from '../kit/QuantityField';
import { showLength, showSpeed, type ShopUnits } from '../kit/units';
import styles from './piece.module.css';

export interface Setting {
  speed_mm_min: number;
  cut_height_mm: number;
}

interface Props {
  advised: Setting;
  chosen: Setting | null;
  units: ShopUnits;
  onChoose: (setting: Setting | null) => void;
}

/** The piece at a setting of the operator's own in place of the advised one. */
export function OwnSetting({ advised, chosen, units, onChoose }: Props) {
  const [open, setOpen] = useState(false);
  const now = chosen ?? advised;
  if (!open)
    return (
      <button type="button" className={styles.quiet} onClick={() => setOpen(true)}>
        Cut it at a setting of your own
      </button>
    );
  return (
    <div className={styles.ownSetting}>
      <QuantityField
        label="Speed"
        quantity="speed"
        means="cut_speed"
        unit={units.speed_unit}
        initial={showSpeed(advised.speed_mm_min, units).text}
        onRead={(v) => v !== null && onChoose({ ...now, speed_mm_min: v })}
      />
      <QuantityField
        label="Cut height"
        quantity="length"
        means="cut_height"
        unit={units.length_unit}
        initial={showLength(advised.cut_height_mm, units).text}
        onRead={(v) => v !== null && onChoose({ ...now, cut_height_mm: v })}
      />
      <button
        type="button"
        className={styles.quiet}
        onClick={() => {
          onChoose(null);
          setOpen(false);
        }}
      >
        Back to the advised setting
      </button>
    </div>
  );
}
