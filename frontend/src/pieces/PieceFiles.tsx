import { at } from '../kit/place';
import type { Asked } from './asked';
import styles from './piece.module.css';

interface FilesProps {
  trialId: number;
  asked: Asked;
  off: boolean;
}

/** Where the files of a piece are, and what was asked of it. */
function filesOf({ trialId, asked }: FilesProps): { address: string; of: string } {
  const given = Object.entries(asked).filter(([, value]) => value !== null);
  const of = new URLSearchParams(given.map(([name, value]) => [name, String(value)])).toString();
  return { address: at(`/api/trials/${trialId}/piece`), of };
}

/** The programs, for a memory stick. */
export function Files(props: FilesProps) {
  const { address, of } = filesOf(props);
  const { off } = props;
  return (
    <div className={styles.files} data-off={off}>
      <a href={`${address}.nc?${of}&dry_run=true`} download>
        1 Dry run, torch off
      </a>
      <a href={`${address}.nc?${of}`} download>
        2 Program
      </a>
    </div>
  );
}

/** The sheet and the drawings, for a printer. */
export function Drawings(props: FilesProps) {
  const { address, of } = filesOf(props);
  const { trialId, asked, off } = props;
  return (
    <div className={styles.files} data-off={off}>
      <a href={`${address}.pdf?${of}`} target="_blank" rel="noreferrer">
        Cut sheet to write on
      </a>
      <a href={`${address}.svg?${of}`} target="_blank" rel="noreferrer">
        Drawing, true scale
      </a>
      <a href={`${address}.dxf?${of}`} download={`trial-${trialId}-${asked.kind}.dxf`}>
        DXF
      </a>
    </div>
  );
}
