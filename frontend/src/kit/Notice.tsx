import type { ReactNode } from 'react';
import styles from './kit.module.css';

/** A sentence that must be seen: a caution, a refusal, or a hand-off. */
export function Notice({
  kind,
  title,
  children,
}: {
  kind: 'caution' | 'refusal' | 'note';
  title?: string;
  children: ReactNode;
}) {
  return (
    <div className={styles.notice} data-kind={kind} role={kind === 'refusal' ? 'alert' : undefined}>
      {title && <strong>{title}</strong>}
      <span>{children}</span>
    </div>
  );
}

export function refusalText(error: unknown): string {
  return error instanceof Error ? error.message : 'Something went wrong.';
}
