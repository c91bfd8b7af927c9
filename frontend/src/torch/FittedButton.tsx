import { lazy, Suspense, useState } from 'react';
import type { Table } from '../kit/client';
import styles from './torch.module.css';

const FittedDialog = lazy(async () => ({ default: (await import('./FittedDialog')).FittedDialog }));

/** What is fitted at this table, said in the header; touched, it can be changed. */
export function FittedButton({ table }: { table: Table }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button type="button" className={styles.fitted} onClick={() => setOpen(true)}>
        {table.torch_set ? (
          <>
            <strong>{table.torch_set.name}</strong> fitted, {table.parts.starts} starts
          </>
        ) : (
          'No torch set noted: say what is fitted'
        )}
        {table.simulated && <em>simulated</em>}
      </button>
      {open && (
        <Suspense fallback={null}>
          <FittedDialog table={table} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}
