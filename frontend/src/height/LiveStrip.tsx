import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { LiveChart } from './LiveChart';
import styles from './live.module.css';
import { lineQuery } from './queries';
import { useNow, useStream } from './useLive';
import { PHASE_WORDS } from '../kit/words.gen';
import { STATE_WORDS } from './words';

/** The live cut on the Bench: while a table's line is attached, or the simulated one runs. */
export function LiveStrip({ tableId }: { tableId: number }) {
  const line = useQuery({ ...lineQuery(tableId), refetchInterval: 4000 });
  const watched = line.data && (line.data.port > 0 || line.data.told > 0);
  return watched ? <Strip tableId={tableId} /> : null;
}

function Strip({ tableId }: { tableId: number }) {
  const stream = useStream(tableId);
  const now = useNow(stream, 4);
  const { line, away } = stream;
  if (!line) return null;
  const lit = now !== null && now.phase !== 'idle';
  const gone = away || line.state !== 'listening';
  if (!gone && line.recording === null) return null;
  return (
    <section className={styles.strip} aria-label="Live cut">
      <p>
        {gone ? (
          <span className={styles.state} data-state="broken">
            {away ? STATE_WORDS.away : `${STATE_WORDS[line.state]}. ${line.says}`}
          </span>
        ) : (
          <>
            <b className="number">{lit && now.volts !== null ? now.volts.toFixed(1) : '–'}</b> V{' '}
            {PHASE_WORDS[now?.phase ?? 'idle']}
          </>
        )}
      </p>
      {gone ? <span /> : <LiveChart stream={stream} height={56} small />}
      <Link to="/height">Live cut</Link>
    </section>
  );
}
