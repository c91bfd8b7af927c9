import Button from '@mui/material/Button';
import { useState } from 'react';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { revisionQuery } from '../kit/queries';
import { useSay } from '../kit/undo';
import { showLength, type ShopUnits } from '../kit/units';
import styles from './bench.module.css';
import type { Bench } from './model';

type Advice = Bench['pierce'][number];
type Told = { pierce_delay_s?: number | null; pierce_height_mm?: number | null };

/** How to pierce from now on, where the pieces say another than is told; nothing while they do not. */
export function PierceLines({ bench, units }: { bench: Bench; units: ShopUnits }) {
  const [open, setOpen] = useState(false);
  if (bench.pierce.length === 0 || bench.trial.recipe_id !== null) return null;
  return (
    <div>
      <Button variant="outlined" fullWidth aria-expanded={open} onClick={() => setOpen(!open)}>
        Pierce otherwise: {bench.pierce.map((p) => otherwise(p, units)).join(', ')}
      </Button>
      {open &&
        bench.pierce.map((advice) => (
          <PierceLine key={advice.why} bench={bench} units={units} advice={advice} />
        ))}
    </div>
  );
}

const otherwise = (advice: Advice, units: ShopUnits): string =>
  advice.pierce_height_mm == null
    ? `${(advice.pierce_delay_s ?? 0).toFixed(2)} s`
    : `${showLength(advice.pierce_height_mm, units).text} ${units.length_unit}`;

function PierceLine({ bench, units, advice }: { bench: Bench; units: ShopUnits; advice: Advice }) {
  const { trial } = bench;
  const queries = useQueryClient();
  const say = useSay();
  const tell = useMutation({
    mutationFn: ({ told, revision }: { told: Told; revision: number }) =>
      answered(
        api.PUT('/api/trials/{trial_id}/pierce', {
          params: { path: { trial_id: trial.id } },
          body: { revision, ...told },
        }),
      ),
    onSuccess: (now, { told }) => {
      const before: Told = {
        ...(told.pierce_delay_s != null && { pierce_delay_s: trial.start.pierce_delay_s }),
        ...(told.pierce_height_mm != null && { pierce_height_mm: trial.start.pierce_height_mm }),
      };
      say({
        text: 'The pieces from now on pierce so.',
        undo: () => tell.mutate({ told: before, revision: now.revision }),
      });
      return queries.invalidateQueries({ queryKey: revisionQuery(trial.id).queryKey });
    },
  });
  const told = { pierce_delay_s: advice.pierce_delay_s, pierce_height_mm: advice.pierce_height_mm };
  return (
    <div className={styles.pierceLine}>
      <p>{advice.why}</p>
      <Button
        variant="outlined"
        disabled={tell.isPending}
        onClick={() => tell.mutate({ told, revision: trial.revision })}
      >
        {advice.pierce_height_mm == null ? 'Pierce for' : 'Pierce at'} {otherwise(advice, units)}
      </Button>
      {tell.isError && <Notice kind="refusal">{refusalText(tell.error)}</Notice>}
    </div>
  );
}
