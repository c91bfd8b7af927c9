import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import styles from './live.module.css';
import type { LiveStream } from './live';
import { useNow } from './useLive';

const STEPS = [0.1, 0.5, 1] as const;

/** The set-point, up and down by thumb or by ↑ ↓ while it cuts; each trim is noted with its moment. */
export function Trims({ tableId, stream }: { tableId: number; stream: LiveStream }) {
  const now = useNow(stream, 3);
  const running = stream.line?.recording?.trace_id ?? null;
  const queries = useQueryClient();
  const key = ['trims', running];
  // Kept with the recording: what was trimmed is there on any screen, and after a reload.
  const noted = useQuery({
    queryKey: key,
    enabled: running !== null,
    queryFn: () =>
      answered(
        api.GET('/api/traces/{trace_id}/trims', { params: { path: { trace_id: running ?? 0 } } }),
      ),
  });
  const made = (running === null ? [] : (noted.data ?? [])).slice(-6);
  const trim = useMutation({
    mutationFn: (by_v: number) =>
      answered(
        api.POST('/api/tables/{table_id}/line/trim', {
          params: { path: { table_id: tableId } },
          body: { by_v },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: key }),
  });
  // Of the last trim of this recording, and of no earlier one.
  const says = made.at(-1)?.at_s === trim.data?.at_s ? trim.data?.says : undefined;
  const can = stream.line?.can.includes('trim') ?? false;
  const ready = can && !stream.away && running !== null && now?.setPoint != null;
  const { mutate } = trim;
  useEffect(() => {
    if (!ready) return;
    const pressed = (e: KeyboardEvent) => {
      const typing =
        e.target instanceof HTMLElement && e.target.closest('input, textarea, [role=dialog]');
      if (typing || e.ctrlKey || e.metaKey || e.altKey) return;
      if (e.key !== 'ArrowUp' && e.key !== 'ArrowDown') return;
      e.preventDefault();
      if (e.repeat) return; // one trim for each press: a key that is held goes on by itself
      const step = e.shiftKey ? 1 : 0.5;
      mutate(e.key === 'ArrowUp' ? step : -step);
    };
    window.addEventListener('keydown', pressed);
    return () => window.removeEventListener('keydown', pressed);
  }, [ready, mutate]);
  return (
    <section aria-labelledby="trims">
      <h2 id="trims">Trim the set-point</h2>
      <p className={styles.soft}>
        {ready
          ? 'Higher volts ride higher. Each press of ↑ or ↓ trims 0.5 V, with Shift 1 V.'
          : can
            ? 'When height control is on, the set-point is trimmed here.'
            : 'This table takes no trims from here.'}
      </p>
      <div className={styles.trims}>
        {STEPS.map((step) => [
          <button key={`-${step}`} type="button" disabled={!ready} onClick={() => mutate(-step)}>
            {`−${step} V`}
          </button>,
          <button key={`+${step}`} type="button" disabled={!ready} onClick={() => mutate(step)}>
            {`+${step} V`}
          </button>,
        ])}
      </div>
      {trim.isError && <Notice kind="refusal">{refusalText(trim.error)}</Notice>}
      {says && <Notice kind="note">{says}</Notice>}
      {made.length > 0 && (
        <p role="status" className={styles.soft}>
          Noted:{' '}
          {made
            .map((m) => `${m.by_v > 0 ? '+' : '−'}${Math.abs(m.by_v)} V at ${m.at_s.toFixed(1)} s`)
            .join(', ')}
        </p>
      )}
    </section>
  );
}
