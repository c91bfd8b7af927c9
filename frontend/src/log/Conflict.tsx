import type { Cut } from '../kit/client';
import { Notice } from '../kit/Notice';
import { showDegrees } from '../kit/units';
import { bevelOf, type Log, type Slot } from './log';
import styles from './log.module.css';

/** Somebody else corrected this cut: both are shown, and the operator says which stands. */
export function Conflict({
  theirs,
  log,
  onTheirs,
  onMine,
}: {
  theirs: Cut;
  log: Log;
  onTheirs: () => void;
  onMine: () => void;
}) {
  const kept = log.sheet.slots.filter((s) => s.kept && s.edge_id);
  const theirsOf = (s: Slot) => theirs.edges.find((e) => e.id === s.edge_id)?.bevel_deg;
  return (
    <Notice kind="refusal" title="Changed on another screen meanwhile">
      <span className={styles.both}>
        Theirs: {kept.map((s) => showDegrees(theirsOf(s))).join(', ')}. Yours:{' '}
        {kept.map((s) => showDegrees(bevelOf(log.edges[s.key]))).join(', ')}. Only what you changed is
        saved over theirs.
      </span>
      <span className={styles.row}>
        <button type="button" onClick={onTheirs}>
          Leave theirs
        </button>
        <button type="button" onClick={onMine}>
          Save mine
        </button>
      </span>
    </Notice>
  );
}
