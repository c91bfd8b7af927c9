import { Link } from 'react-router';
import { Notice } from '../kit/Notice';
import type { ShopUnits } from '../kit/units';
import styles from './bench.module.css';
import { ChanceMap } from './ChanceMap';
import { EarlierTrials } from './EarlierTrials';
import type { Bench, Setting } from './model';

/** The window, what is still to be proven, and what else the cuts say. */
export function Evidence({
  bench,
  units,
  onCutAt,
}: {
  bench: Bench;
  units: ShopUnits;
  onCutAt: ((at: Setting) => void) | null;
}) {
  return (
    <section className={styles.evidence} aria-label="Evidence">
      <ChanceMap bench={bench} units={units} onCutAt={onCutAt} />
      {bench.findings.map((f) => (
        <Notice key={f.code} kind="note" title={f.title}>
          {f.why}
        </Notice>
      ))}
      <h2>Before it may be called square</h2>
      <ul className={styles.proofs}>
        {bench.proofs.map((p) => (
          <li key={p.text} data-done={p.done}>
            <span className="hidden-text">{p.done ? 'Done: ' : 'Open: '}</span>
            {p.text}
          </li>
        ))}
      </ul>
      <EarlierTrials bench={bench} units={units} />
      <p className={styles.more}>
        <Link to={`/trials/${bench.trial.id}`}>All cuts and readings</Link>
      </p>
    </section>
  );
}
