import { useQuery } from '@tanstack/react-query';
import { tablesQuery } from '../kit/queries';
import { insistOn, throwAway, useSending, useWaiting } from '../kit/outbox';
import styles from './frame.module.css';

const counted = (n: number): string => (n === 1 ? '1 log waits' : `${n} logs wait`);

/** Says that the server does not answer, and what was logged here and has not reached it yet. */
export function OutboxBar() {
  useSending();
  const all = useWaiting();
  const refused = all.filter((w) => w.refused);
  const waits = all.length - refused.length;
  const silent = useQuery(tablesQuery).isError;
  if (all.length === 0 && !silent) return null;
  return (
    <div className={styles.outbox} role="status">
      {waits > 0 && (
        <p>
          <strong>{counted(waits)} on this screen.</strong> Orthotome does not answer: it is sent, once,
          as soon as it does. Leave this page open.
        </p>
      )}
      {waits === 0 && silent && (
        <p>
          <strong>Orthotome does not answer.</strong> What you see is from before; what you log is kept
          on this screen, and sent as soon as it does.
        </p>
      )}
      {refused.map((w) => (
        <p key={w.key}>
          <strong>Kept on this screen, not logged:</strong> {w.refused}{' '}
          {w.doubted && (
            <button type="button" onClick={() => insistOn(w)}>
              It is right: log it
            </button>
          )}{' '}
          <button type="button" onClick={() => throwAway(w.key)}>
            Throw it away
          </button>
        </p>
      ))}
    </div>
  );
}
