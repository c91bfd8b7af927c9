import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link, useOutletContext } from 'react-router';
import type { Table } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import styles from './height.module.css';
import { heightQuery, type TrialHeight } from './queries';

/** A page of the height of the trial on this table's Bench. */
export function OfTrial({
  title,
  children,
}: {
  title: string;
  children: (height: TrialHeight) => ReactNode;
}) {
  const table = useOutletContext<Table>();
  const trialId = table.bench_trial_id;
  const height = useQuery({ ...heightQuery(trialId ?? 0), enabled: trialId !== null });
  if (trialId === null)
    return (
      <main className={styles.height}>
        <h1>{title}</h1>
        <p className={styles.wait}>
          This is worked out for the trial on the Bench, and there is none on the {table.name}.{' '}
          <Link to="/trials/new">Open one</Link>, or put an earlier one on the Bench.
        </p>
      </main>
    );
  if (height.isError && !height.data) return <Notice kind="refusal">{refusalText(height.error)}</Notice>;
  if (!height.data) return <main className={styles.height} aria-busy="true" />;
  return (
    <main className={styles.height}>
      <header className={styles.head}>
        <h1>{title}</h1>
        <p className={styles.soft}>
          {height.data.title || height.data.plate} on the {table.name}
        </p>
      </header>
      {children(height.data)}
    </main>
  );
}
