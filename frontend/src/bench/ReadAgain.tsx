import Button from '@mui/material/Button';
import type { Bench, Schema } from '../kit/client';
import styles from './bench.module.css';

type Again = Schema['ReadAgainHere'];
const SHOWN = 2;

/** A reading costs seconds, a cut costs steel: what to read once more before the next is cut. */
export function ReadAgain({ bench, onRead }: { bench: Bench; onRead: (asked: Again[]) => void }) {
  const asked = bench.read_again;
  const first = asked[0];
  if (!first) return null;
  const more = asked.length - SHOWN;
  return (
    <div className={styles.again} role="group" aria-label="Read once more">
      {asked.slice(0, SHOWN).map((a) => (
        <p key={`${a.side} ${a.heading_deg}`}>{a.why}</p>
      ))}
      {more > 0 && <p>{more === 1 ? 'One more edge' : `${more} more edges`} of the same piece.</p>}
      <Button
        variant="outlined"
        fullWidth
        onClick={() => onRead(asked.filter((a) => a.cut_id === first.cut_id))}
      >
        Read piece {first.number} again
      </Button>
    </div>
  );
}
