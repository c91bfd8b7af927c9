import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { answered, api } from '../kit/client';
import type { Log } from './log';
import styles from './log.module.css';

interface Props {
  trialId: number;
  log: Log;
  change: (to: (now: Log) => Log) => void;
}

/** The voltage of the cut that was just recorded goes into its log by itself, and says where it is from. */
export function FromRecording({ trialId, log, change }: Props) {
  const recorded = useQuery({
    queryKey: ['recorded', trialId],
    queryFn: () =>
      answered(api.GET('/api/trials/{trial_id}/recorded', { params: { path: { trial_id: trialId } } })),
    enabled: log.cutId === null,
    staleTime: 0,
  });
  const filled = useRef(false);
  const found = recorded.data ?? null;
  useEffect(() => {
    if (filled.current || log.cutId !== null || found?.steady_v == null) return;
    filled.current = true;
    const volts = found.steady_v.toFixed(1);
    change((now) =>
      now.volts !== ''
        ? now
        : {
            ...now,
            volts,
            height_control: found.height_control ?? now.height_control,
            set_point_v: found.set_point_v ?? now.set_point_v,
          },
    );
  }, [found, log.cutId, change]);
  if (log.cutId !== null || found?.steady_v == null) return null;
  const taken = log.volts === found.steady_v.toFixed(1);
  return (
    <p className={styles.recorded} role="status">
      {taken ? 'Volts from the recording: ' : 'The recording says '}
      <b className="number">{found.steady_v.toFixed(1)}</b> V
      {found.spread_v !== null && ` ± ${found.spread_v.toFixed(1)}`}, {found.starts}{' '}
      {found.starts === 1 ? 'start' : 'starts'} and {found.arc_on_s.toFixed(1)} s of arc already counted.
      <button
        type="button"
        onClick={() =>
          change((now) => ({ ...now, volts: taken ? '' : (found.steady_v ?? 0).toFixed(1) }))
        }
      >
        {taken ? 'It was not this cut' : 'Take it'}
      </button>
    </p>
  );
}
