import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { answered, api, type Schema } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import styles from './live.module.css';
import type { LiveStream } from './live';
import { useNow } from './useLive';

const STEPS = [0.1, 0.5, 1] as const;

/** What was trimmed in the recording that runs, and the means to trim: kept with it, so it is there on any screen, and
 *  after a reload. */
function useTrims(tableId: number, running: number | null) {
  const queries = useQueryClient();
  const key = ['trims', running ?? undefined] as const;
  const noted = useQuery({
    queryKey: key,
    enabled: running !== null,
    queryFn: () =>
      answered(
        api.GET('/api/traces/{trace_id}/trims', { params: { path: { trace_id: running ?? 0 } } }),
      ),
  });
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
  return { made: (running === null ? [] : (noted.data ?? [])).slice(-6), trim };
}

/** Trims by ↑ and ↓, for as long as it can be trimmed. */
function useArrows(ready: boolean, mutate: (by_v: number) => void): void {
  useEffect(() => {
    if (!ready) return;
    const pressed = (e: KeyboardEvent) => {
      const by = byArrow(e);
      if (by === null) return;
      e.preventDefault();
      if (!e.repeat) mutate(by); // one trim for each press: a key that is held goes on by itself
    };
    window.addEventListener('keydown', pressed);
    return () => window.removeEventListener('keydown', pressed);
  }, [ready, mutate]);
}

/** Volts that a key trims by; null for any other key, and where something is typed. */
function byArrow(e: KeyboardEvent): number | null {
  const typing = e.target instanceof HTMLElement && e.target.closest('input, textarea, [role=dialog]');
  if (typing || e.ctrlKey || e.metaKey || e.altKey) return null;
  const step = e.shiftKey ? 1 : 0.5;
  if (e.key === 'ArrowUp') return step;
  return e.key === 'ArrowDown' ? -step : null;
}

function howText(ready: boolean, can: boolean): string {
  if (ready) return 'Higher volts ride higher. Each press of ↑ or ↓ trims 0.5 V, with Shift 1 V.';
  return can
    ? 'When height control is on, the set-point is trimmed here.'
    : 'This table takes no trims from here.';
}

/** The set-point, up and down by thumb or by ↑ ↓ while it cuts; each trim is noted with its moment. */
export function Trims({ tableId, stream }: { tableId: number; stream: LiveStream }) {
  const now = useNow(stream, 3);
  const running = stream.line?.recording?.trace_id ?? null;
  const { made, trim } = useTrims(tableId, running);
  // Of the last trim of this recording, and of no earlier one.
  const says = made.at(-1)?.at_s === trim.data?.at_s ? trim.data?.says : undefined;
  const can = stream.line?.can.includes('trim') === true;
  const ready = can && !stream.away && running !== null && isHeld(now);
  const { mutate } = trim;
  useArrows(ready, mutate);
  return (
    <section aria-labelledby="trims">
      <h2 id="trims">Trim the set-point</h2>
      <p className={styles.soft}>{howText(ready, can)}</p>
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
          Noted: {made.map(trimText).join(', ')}
        </p>
      )}
    </section>
  );
}

/** Whether height control holds a set-point now. */
const isHeld = (now: ReturnType<typeof useNow>): boolean => now !== null && now.setPoint !== null;

const trimText = ({ by_v: by, at_s: at }: Schema['TrimAnswer']): string =>
  `${by > 0 ? '+' : '−'}${Math.abs(by)} V at ${at.toFixed(1)} s`;
