import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import { useState } from 'react';
import { Choices } from '../kit/Choices';
import styles from './piece.module.css';

const KINDS = [
  { value: 'square', label: 'Square' },
  { value: 'strip_ladder', label: 'Speed strips' },
] as const;

const SAYS = {
  square:
    'Four directions at one setting: it tells speed and height from a leaning jet, and can prove a setting.',
  strip_ladder:
    'Five speeds in one direction, slot 1 slowest: it finds the dross window. It proves nothing by itself.',
} as const;

/** The next test piece: its drawing, its program, and the program with the torch off. */
export function PieceDialog({
  trialId,
  revision,
  begin,
  onClose,
}: {
  trialId: number;
  revision: number;
  begin: 'square' | 'strip_ladder';
  onClose: () => void;
}) {
  const [kind, setKind] = useState(begin);
  const address = `/api/trials/${trialId}/piece`;
  return (
    <Dialog
      open
      onClose={onClose}
      maxWidth="md"
      fullWidth
      aria-labelledby="piece-title"
      transitionDuration={0}
    >
      <div className={styles.piece}>
        <div className={styles.drawing}>
          <img
            src={`${address}.svg?kind=${kind}&revision=${revision}`}
            alt="Drawing of the piece from above, with its zero, leads and direction of travel"
          />
        </div>
        <div className={styles.take}>
          <h1 id="piece-title">The piece to cut</h1>
          <Choices label="Piece" value={kind} choices={KINDS} onChoose={setKind} />
          <p>{SAYS[kind]}</p>
          <a href={`${address}.nc?kind=${kind}&dry_run=true`} download>
            1 Dry run, torch off
          </a>
          <a href={`${address}.nc?kind=${kind}`} download>
            2 Program
          </a>
          <a href={`${address}.svg?kind=${kind}`} target="_blank" rel="noreferrer">
            Drawing, true scale
          </a>
          <p className={styles.caution}>
            Turn height control off for both: some machines turn it on again at program start. Shade,
            gloves, extraction and fire watch before the arc; hands at the torch only with the source
            isolated. Your equipment’s manual rules.
          </p>
          <Button variant="outlined" onClick={onClose}>
            Back to the Bench
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
