import type { Bench, Schema } from '../kit/client';
import styles from './bench.module.css';

type Again = Schema['ReadAgainHere'];

/** A reading costs seconds, a cut costs steel: what to read once more before the next is cut. */
export function ReadAgain({ bench, onRead }: { bench: Bench; onRead: (asked: Again[]) => void }) {
  const first = bench.read_again[0];
  if (!first) return null;
  const samePiece = bench.read_again.filter((a) => a.cut_id === first.cut_id);
  const more = samePiece.length - 1;
  return (
    <button type="button" className={styles.again} onClick={() => onRead(samePiece)}>
      <strong>First read piece {first.number} again</strong>
      <span>
        {first.why}
        {more > 0 && ` And ${more === 1 ? 'one more edge' : `${more} more edges`} of it.`}
      </span>
    </button>
  );
}
