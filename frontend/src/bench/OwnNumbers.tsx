import Button from '@mui/material/Button';
import { useState } from 'react';
import { QuantityField } from '../kit/QuantityField';
import { showLength, showSpeed, type ShopUnits } from '../kit/units';
import { SaveButton } from '../kit/SaveButton';
import styles from './bench.module.css';
import { lastCut, type Bench, type Setting } from './model';

interface Props {
  bench: Bench;
  units: ShopUnits;
  open?: boolean;
  onCut: (own: Setting) => void;
}

/** On a simulated table: a square at numbers of one's own, from the last cut's or the row's. */
export function OwnNumbers({ bench, units, open: begun = false, onCut }: Props) {
  const [open, setOpen] = useState(begun);
  const last = lastCut(bench) ?? bench.trial.start;
  const [own, setOwn] = useState<Partial<Setting>>({});
  if (!open)
    return (
      <Button variant="outlined" onClick={() => setOpen(true)}>
        Your own numbers
      </Button>
    );
  const now: Setting = {
    speed_mm_min: own.speed_mm_min ?? last.speed_mm_min,
    cut_height_mm: own.cut_height_mm ?? last.cut_height_mm,
  };
  return (
    <div className={styles.ownNumbers}>
      <QuantityField
        label="Speed"
        quantity="speed"
        means="cut_speed"
        unit={units.speed_unit}
        initial={showSpeed(last.speed_mm_min, units).text}
        onRead={(v) => v !== null && setOwn((was) => ({ ...was, speed_mm_min: v }))}
      />
      <QuantityField
        label="Cut height"
        quantity="length"
        means="cut_height"
        unit={units.length_unit}
        initial={showLength(last.cut_height_mm, units).text}
        onRead={(v) => v !== null && setOwn((was) => ({ ...was, cut_height_mm: v }))}
      />
      <SaveButton variant={begun ? 'contained' : 'outlined'} onClick={() => onCut(now)}>
        Cut these
      </SaveButton>
    </div>
  );
}
