import Button from '@mui/material/Button';
import { lazy, Suspense, useState } from 'react';
import type { Bench } from './model';

const LockDialog = lazy(() => import('./LockDialog').then((m) => ({ default: m.LockDialog })));

/** Shows what the recipe will hold, and locks it there. */
export function LockButton({ bench }: { bench: Bench }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button variant="contained" fullWidth onClick={() => setOpen(true)}>
        Lock the recipe
      </Button>
      {open && (
        <Suspense fallback={null}>
          <LockDialog bench={bench} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}
