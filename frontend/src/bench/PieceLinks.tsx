import { useState } from 'react';
import styles from './bench.module.css';

const KINDS = [
  { kind: 'square', name: 'Square' },
  { kind: 'strip_ladder', name: 'Speed strips' },
] as const;

/** The next test piece: its drawing, its program, and the program with the torch off. */
export function PieceLinks({ trialId }: { trialId: number }) {
  const [kind, setKind] = useState<'square' | 'strip_ladder'>('square');
  const address = `/api/trials/${trialId}/piece`;
  return (
    <details className={styles.piece}>
      <summary>Program and drawing of the piece</summary>
      <div role="group" aria-label="Piece" className={styles.kinds}>
        {KINDS.map((k) => (
          <button
            key={k.kind}
            type="button"
            aria-pressed={kind === k.kind}
            onClick={() => setKind(k.kind)}
          >
            {k.name}
          </button>
        ))}
      </div>
      <div className={styles.downloads}>
        <a href={`${address}.nc?kind=${kind}&dry_run=true`} download>
          Dry run
        </a>
        <a href={`${address}.nc?kind=${kind}`} download>
          Program
        </a>
        <a href={`${address}.svg?kind=${kind}`} target="_blank" rel="noreferrer">
          Drawing
        </a>
      </div>
      <p className={styles.legend}>
        Dry run first: torch off, height control off. Then shade, gloves, extraction and fire watch;
        hands at the torch only with the source isolated. Your equipment’s manual rules.
      </p>
    </details>
  );
}
