import { useQuery } from '@tanstack/react-query';
import { answered, api } from '../kit/client';
import styles from './trial.module.css';

/** The run-throughs kept with a trial: who, when, and what was skipped. */
export function CheckedBefore({ trialId }: { trialId: number }) {
  const runs = useQuery({
    queryKey: ['readiness', 'of-trial', trialId],
    queryFn: () =>
      answered(api.GET('/api/trials/{trial_id}/readiness', { params: { path: { trial_id: trialId } } })),
  });
  if (!runs.data || runs.data.length === 0) return null;
  return (
    <section className={styles.checked} aria-labelledby="checked">
      <h2 id="checked">Checked before cutting</h2>
      <ol>
        {runs.data.map((r) => (
          <li key={r.begun_at}>
            <strong>
              {r.done_at ? '■' : '□'} {new Date(r.begun_at).toLocaleString()}
              {r.begun_by && `, ${r.begun_by}`}: {r.right} right
              {r.done_at === null && ', not finished'}
            </strong>
            {r.not_right.length > 0 && <span>Not right: {r.not_right.join(' ')} </span>}
            {r.skipped.length > 0 && <span className="soft">Skipped: {r.skipped.join(' ')}</span>}
          </li>
        ))}
      </ol>
    </section>
  );
}
