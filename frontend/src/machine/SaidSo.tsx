import { useState, type ReactNode } from 'react';
import { Notice, refusalText } from '../kit/Notice';
import { TextField } from '../kit/TextField';
import { SaveButton } from '../kit/SaveButton';
import { useKeep, useSaid, type Check, type Said } from './checks';
import styles from './motion.module.css';

/** What a check says, and the button that keeps it. */
export function SaidSo({
  tableId,
  check,
  before,
  children,
}: {
  tableId: number;
  /** Null while something that it needs is not typed. */
  check: Check | null;
  /** What stands here until then. */
  before: string;
  children?: (said: Said) => ReactNode;
}) {
  const said = useSaid(tableId, check);
  const keep = useKeep(tableId);
  const [note, setNote] = useState('');
  if (check === null) return <p className="soft">{before}</p>;
  if (said.isError)
    return (
      <Notice kind="refusal" title="No machine does so">
        {refusalText(said.error)}
      </Notice>
    );
  if (!said.data) return null;
  return (
    <section aria-label="What it says" className={styles.said} data-standing={said.data.standing}>
      {said.data.told.map((t) => (
        <div key={t.title}>
          <h2>{t.title}</h2>
          <p>{t.why}</p>
          {t.check && <p>{t.check}</p>}
          {t.cure && <p className={styles.cure}>{t.cure}</p>}
        </div>
      ))}
      {said.data.cannot_tell.map((c) => (
        <p key={c}>{c}</p>
      ))}
      {children?.(said.data)}
      <TextField label="A note with it" value={note} most={400} onType={setNote} />
      <SaveButton
        disabled={keep.isPending}
        onClick={() => keep.mutate({ check, note }, { onSuccess: () => setNote('') })}
      >
        Keep it with the table
      </SaveButton>
      {keep.isError && <Notice kind="refusal">{refusalText(keep.error)}</Notice>}
    </section>
  );
}
