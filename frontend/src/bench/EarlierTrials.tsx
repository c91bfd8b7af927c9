import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import styles from './bench.module.css';
import type { Bench } from './model';

/** Which earlier trials of this table sharpen the advice, and the switch that leaves them out. */
export function EarlierTrials({ bench }: { bench: Bench }) {
  const { trial, earlier } = bench;
  const queries = useQueryClient();
  const used = !trial.on_its_own;
  const set = useMutation({
    mutationFn: (use: boolean) =>
      answered(
        api.PUT('/api/trials/{trial_id}/earlier-trials', {
          params: { path: { trial_id: trial.id } },
          body: { revision: trial.revision, use },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['revision', trial.id] }),
  });
  if (earlier.length === 0) return null;
  return (
    <div className={styles.earlier}>
      <button
        type="button"
        role="switch"
        aria-checked={used}
        disabled={set.isPending || trial.recipe_id !== null}
        onClick={() => set.mutate(!used)}
      >
        <i aria-hidden="true" />
        Learn from earlier trials here
      </button>
      <p>
        {earlier.map((e, i) => (
          <span key={e.id}>
            {i > 0 && ', '}
            <Link to={`/trials/${e.id}`}>
              {e.plate} {e.metal_label}
            </Link>
          </span>
        ))}
        {used ? ': swirl, spread and gauge; where square lies, for the same stock.' : ': left out.'}
      </p>
      {set.isError && <Notice kind="refusal">{refusalText(set.error)}</Notice>}
    </div>
  );
}
