import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { recipeQuery } from '../book/queries';
import type { ShopUnits } from '../kit/units';
import styles from './bench.module.css';
import type { Bench } from './model';

const CheckDialog = lazy(async () => ({ default: (await import('../book/CheckDialog')).CheckDialog }));

/** What is done with a recipe on its Bench: check a piece, cut at it, look at it, go on to the next job. */
export function LockedActions(p: {
  bench: Bench;
  units: ShopUnits;
  recipeId: number;
  program: ReactNode;
}) {
  const [checking, setChecking] = useState(false);
  const recipe = useQuery(recipeQuery(p.recipeId));
  return (
    <div className={styles.go}>
      <Button variant="contained" disabled={!recipe.data} onClick={() => setChecking(true)}>
        Check one piece
      </Button>
      {p.program}
      <div className={styles.row}>
        <Button component={Link} to={`/book/recipes/${p.recipeId}`} variant="outlined">
          The recipe
        </Button>
        <Button component={Link} to="/trials/new" variant="outlined">
          The next job
        </Button>
      </div>
      {checking && recipe.data && (
        <Suspense fallback={null}>
          <CheckDialog recipe={recipe.data} units={p.units} onClose={() => setChecking(false)} />
        </Suspense>
      )}
    </div>
  );
}
