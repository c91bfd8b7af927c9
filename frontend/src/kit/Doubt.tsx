import { Refusal } from './client';
import { Notice, refusalText } from './Notice';
import styles from './kit.module.css';

/** Why something was not saved; a number that is only asked about can be insisted on. */
export function Doubt({
  error,
  onInsist,
  onPutRight,
}: {
  error: unknown;
  /** The field of the number that is right as it stands. */
  onInsist: (field: string) => void;
  onPutRight?: ((field: string) => void) | undefined;
}) {
  const field = error instanceof Refusal ? error.doubted : null;
  if (field === null) return <Notice kind="refusal">{refusalText(error)}</Notice>;
  return (
    <Notice kind="caution" title="Not saved yet: look again?">
      {refusalText(error)}
      <span className={styles.insist}>
        {onPutRight && (
          <button type="button" onClick={() => onPutRight(field)}>
            Put it right
          </button>
        )}
        <button type="button" onClick={() => onInsist(field)}>
          It is right: save it
        </button>
      </span>
    </Notice>
  );
}
