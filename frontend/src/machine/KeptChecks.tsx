import Button from '@mui/material/Button';
import { useSay } from '../kit/undo';
import { useKept, useStrike } from './checks';
import styles from './motion.module.css';

/** What was found before, newest first. */
export function KeptChecks({ tableId, kind }: { tableId: number; kind: string }) {
  const kept = (useKept(tableId).data ?? []).filter((k) => k.check.kind === kind);
  const strike = useStrike();
  const say = useSay();
  if (kept.length === 0) return null;
  return (
    <section aria-label="Found before" className={styles.kept}>
      <h2>Found before</h2>
      <ul>
        {kept.map((k) => (
          <li key={k.id}>
            <div>
              <strong>{new Date(k.checked_at).toLocaleDateString()}</strong> {k.said.figure}
              <small>{[k.checked_by, k.note].filter(Boolean).join(': ')}</small>
            </div>
            <Button
              onClick={() =>
                strike.mutate(
                  { id: k.id, out: true },
                  {
                    onSuccess: () =>
                      say({
                        text: 'It was struck out.',
                        undo: () => strike.mutate({ id: k.id, out: false }),
                      }),
                  },
                )
              }
            >
              Strike out
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
