import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { useSay } from '../kit/undo';
import { trimQuery, type Trim } from './queries';
import styles from './parts.module.css';

/** On the Bench: the trim that is due; nothing while none is. */
export function TrimDue({ trialId }: { trialId: number }) {
  const trim = useQuery(trimQuery(trialId));
  return trim.data && trim.data.by_v !== 0 ? <TrimLine trim={trim.data} /> : null;
}

/** What the set-point needs on the parts as they are, and the button that does it. */
export function TrimLine({ trim }: { trim: Trim }) {
  const queries = useQueryClient();
  const say = useSay();
  const by = (v: number) =>
    answered(
      api.POST('/api/trials/{trial_id}/trim', {
        params: { path: { trial_id: trim.trial_id } },
        body: { by_v: v },
      }),
    );
  const raise = useMutation({
    mutationFn: () => by(trim.by_v),
    onSuccess: (now) => {
      const undo = () => void by(-trim.by_v).then(() => queries.invalidateQueries());
      say({
        text: `Told ${now.told_v?.toFixed(1) ?? ''} V from now on: set it on the control too.`,
        undo,
      });
      return queries.invalidateQueries();
    },
  });
  const to = (trim.told_v ?? 0) + trim.by_v;
  return (
    <section className={styles.trim} data-due={trim.by_v !== 0} aria-label="Set-point as the parts wear">
      {trim.now_v !== null && (
        <p className={styles.trimVolts}>
          <b className="number">{(trim.by_v !== 0 ? to : (trim.told_v ?? trim.now_v)).toFixed(1)}</b> V
          {trim.by_v !== 0 && <em>{`${trim.by_v > 0 ? '+' : '−'}${Math.abs(trim.by_v).toFixed(1)}`}</em>}
        </p>
      )}
      <p>{trim.says}</p>
      {trim.by_v !== 0 && (
        <Button variant="contained" disabled={raise.isPending} onClick={() => raise.mutate()}>
          {trim.by_v > 0 ? 'Raise' : 'Lower'} it to {to.toFixed(1)} V
        </Button>
      )}
      {raise.isError && <Notice kind="refusal">{refusalText(raise.error)}</Notice>}
    </section>
  );
}
