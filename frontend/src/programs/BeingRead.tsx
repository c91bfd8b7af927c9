import Button from '@mui/material/Button';
import { useMutation, useQuery } from '@tanstack/react-query';
import { answered, api } from '../kit/client';
import styles from './programs.module.css';

/** How far a long program is read, and a stop. */
export function BeingRead({ watch }: { watch: string }) {
  const path = { key: watch };
  const reading = useQuery({
    queryKey: ['reading', watch],
    queryFn: () => answered(api.GET('/api/program-readings/{key}', { params: { path } })),
    refetchInterval: 400,
    gcTime: 0,
  });
  const stop = useMutation({
    mutationFn: () => answered(api.DELETE('/api/program-readings/{key}', { params: { path } })),
  });
  const share = reading.data?.share ?? 0;
  return (
    <div className={styles.reading} role="status">
      <progress value={share} aria-label="Read so far" />
      <span>
        {share < 1 ? `Read line by line: ${Math.round(100 * share)} %` : 'Read. Now it is checked.'}
      </span>
      <Button variant="outlined" disabled={stop.isPending} onClick={() => stop.mutate()}>
        Stop
      </Button>
    </div>
  );
}
