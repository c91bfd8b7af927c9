import Button from '@mui/material/Button';
import { lazy, Suspense, useState } from 'react';
import { showSpeed, type ShopUnits } from '../kit/units';
import styles from './bench.module.css';
import type { Bench } from './model';

const LadderSheet = lazy(async () => ({ default: (await import('./LadderSheet')).LadderSheet }));

/** A metal without rows begins here: five speeds at one height, and which came out clean. */
export function OpeningLadder({ bench, units }: { bench: Bench; units: ShopUnits }) {
  const [open, setOpen] = useState(false);
  const speeds = bench.opening_ladder_mm_min.map((v) => showSpeed(v, units).text);
  return (
    <div className={styles.why}>
      <p>
        First a coarse ladder, height fixed and height control off: strips at{' '}
        <strong>{speeds.join(', ')}</strong> {units.speed_unit}. Its program is under “Program”.
      </p>
      <Button variant="outlined" onClick={() => setOpen(true)}>
        The strips are cut: log them
      </Button>
      {open && (
        <Suspense fallback={null}>
          <LadderSheet bench={bench} units={units} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </div>
  );
}
