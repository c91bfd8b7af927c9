import Button from '@mui/material/Button';
import { useMutation, useQuery } from '@tanstack/react-query';
import { answered, api, type Schema } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import styles from './live.module.css';
import { heightQuery, type Line } from './queries';

type Run = Schema['RunRequest'];

/** A simulated table is started from here; a real one at the machine. */
export function Runs({
  tableId,
  trialId,
  line,
}: {
  tableId: number;
  trialId: number | null;
  line: Line;
}) {
  const height = useQuery({ ...heightQuery(trialId ?? 0), enabled: trialId !== null });
  const run = useMutation({
    mutationFn: (body: Run) =>
      answered(
        api.POST('/api/tables/{table_id}/line/run', {
          params: { path: { table_id: tableId } },
          body,
        }),
      ),
  });
  if (trialId === null)
    return (
      <section className={styles.runs}>
        <h2>Run something</h2>
        <p className={styles.soft}>Open a trial on this table first.</p>
      </section>
    );
  const told = height.data?.control.chosen ?? false;
  const running = line.recording !== null;
  const wrong = run.error;
  return (
    <section className={styles.runs} aria-labelledby="runs">
      <h2 id="runs">Run on the simulated table</h2>
      <button
        type="button"
        disabled={running || run.isPending}
        onClick={() => run.mutate({ kind: 'square', control: false, warp_mm: 0 })}
      >
        Square, height held
      </button>
      <button
        type="button"
        disabled={running || run.isPending || !told}
        onClick={() => run.mutate({ kind: 'square', control: true, warp_mm: 0 })}
      >
        Square, under control
      </button>
      <button
        type="button"
        disabled={running || run.isPending || !told}
        onClick={() => run.mutate({ kind: 'long_strip', control: true, warp_mm: 3 })}
      >
        Long strip on a warped sheet, under control
      </button>
      {!told && (
        <p className={styles.soft}>Under control: choose first what it is told, under Set-point.</p>
      )}
      {wrong && <Notice kind="refusal">{refusalText(wrong)}</Notice>}
    </section>
  );
}

/** Stops what a simulated table runs: in one place, and in view. */
export function Stop({ tableId, running }: { tableId: number; running: boolean }) {
  const stop = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/tables/{table_id}/line/stop', { params: { path: { table_id: tableId } } }),
      ),
  });
  return (
    <>
      <Button
        variant="outlined"
        sx={{ color: 'var(--bad)', borderColor: 'var(--bad)' }}
        size="large"
        className={styles.stop}
        disabled={!running || stop.isPending}
        onClick={() => stop.mutate()}
      >
        Stop
      </Button>
      {stop.isError && <Notice kind="refusal">{refusalText(stop.error)}</Notice>}
    </>
  );
}
