import { useQuery } from '@tanstack/react-query';
import { answered, api, type Cut } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import styles from './trial.module.css';

/** Who changed a cut, when, and what stood there. */
export function CutHistory({ trialId, cut }: { trialId: number; cut: Cut }) {
  const found = useQuery({
    queryKey: ['history', trialId, cut.id, cut.version],
    queryFn: () =>
      answered(
        api.GET('/api/trials/{trial_id}/cuts/{cut_id}/history', {
          params: { path: { trial_id: trialId, cut_id: cut.id } },
        }),
      ),
  });
  if (found.isError) return <Notice kind="refusal">{refusalText(found.error)}</Notice>;
  return (
    <ol className={styles.history}>
      {(found.data ?? []).map((h) => (
        <li key={h.at}>
          <span>
            {new Date(h.at).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' })}
            {h.by && `, ${h.by}`}
          </span>
          <span>
            {h.act}
            {h.was.length > 0 && `: ${h.was.join('; ')}`}
          </span>
        </li>
      ))}
    </ol>
  );
}
