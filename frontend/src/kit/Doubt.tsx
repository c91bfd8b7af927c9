import Button from '@mui/material/Button';
import { useEffect, useRef } from 'react';
import { Refusal } from './client';
import { Notice, refusalText } from './Notice';
import styles from './kit.module.css';

interface Props {
  error: unknown;
  /** The field of the number that is right as it stands. */
  onInsist: (field: string) => void;
  onPutRight?: ((field: string) => void) | undefined;
}

/** Why something was not saved, brought into sight; a number that is only asked about can be insisted on. */
export function Doubt({ error, onInsist, onPutRight }: Props) {
  const said = useRef<HTMLDivElement>(null);
  useEffect(() => {
    said.current?.scrollIntoView({ block: 'nearest' });
  }, [error]);
  const field = error instanceof Refusal ? error.doubted : null;
  return (
    <div ref={said}>
      {field === null ? (
        <Notice kind="refusal">{refusalText(error)}</Notice>
      ) : (
        <Notice kind="caution" title="Not saved yet: look again?">
          {refusalText(error)}
          <span className={styles.insist}>
            {onPutRight && (
              <Button variant="outlined" color="inherit" onClick={() => onPutRight(field)}>
                Put it right
              </Button>
            )}
            <Button variant="outlined" color="inherit" onClick={() => onInsist(field)}>
              It is right: save it
            </Button>
          </span>
        </Notice>
      )}
    </div>
  );
}
