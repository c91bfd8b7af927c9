import Button from '@mui/material/Button';
import styles from './trouble.module.css';
import type { Said } from './queries';

/** What was answered, each to be taken back; and what the records knew already, each to be set aside. */
export function Told({
  told,
  known,
  onTakeBack,
  onOtherwise,
}: {
  told: readonly Said[];
  known: readonly Said[];
  onTakeBack: (code: string) => void;
  onOtherwise: (code: string) => void;
}) {
  return (
    <>
      {told.length > 0 && (
        <section aria-label="What you said" className={styles.told}>
          <h2>What you said</h2>
          <ul>
            {told.map((s) => (
              <li key={s.code}>
                <span>
                  {s.question} <strong>{s.answer}</strong>
                </span>
                <Button onClick={() => onTakeBack(s.code)}>Take back</Button>
              </li>
            ))}
          </ul>
        </section>
      )}
      {known.length > 0 && (
        <section aria-label="Known already" className={styles.told}>
          <h2>Known already</h2>
          <ul>
            {known.map((s) => (
              <li key={s.code}>
                <span>
                  {s.question} <strong>{s.answer}</strong> <small>from {s.source}</small>
                </span>
                <Button onClick={() => onOtherwise(s.code)}>Not sure</Button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}
