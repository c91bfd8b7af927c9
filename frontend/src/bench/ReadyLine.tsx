import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { readyQuery } from '../ready/queries';
import styles from './bench.module.css';

/** How the run-through stands: the first thing before the first cut, a quiet line after it. */
export function ReadyLine({ tableId }: { tableId: number }) {
  const ready = useQuery(readyQuery(tableId));
  if (!ready.data) return null;
  const { due, not_right, last_done_at, last_done_by } = ready.data;
  const when =
    last_done_at === null
      ? ''
      : ` ${new Date(last_done_at).toLocaleString([], { dateStyle: 'short', timeStyle: 'short' })}`;
  return (
    <Link to="/ready" className={styles.readyLine} data-due={due > 0 || not_right > 0}>
      {not_right > 0
        ? `▲ ${not_right} not right`
        : due > 0
          ? `□ Ready? ${due} due`
          : `■ Checked${when}${last_done_by ? `, ${last_done_by}` : ''}`}
    </Link>
  );
}
