import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import styles from './kit.module.css';
import { Notice, refusalText } from './Notice';
import { tablesQuery } from './queries';

/** In place of a page about a table, while the shop has none. */
export function NoTable() {
  const tables = useQuery(tablesQuery);
  if (tables.isError && !tables.data) return <Notice kind="refusal">{refusalText(tables.error)}</Notice>;
  if (!tables.data) return null;
  return (
    <main className={styles.noTable}>
      <h1>No table yet</h1>
      <p>This page is about a table. Name your first one with a new trial.</p>
      <Link to="/trials/new">New trial</Link>
    </main>
  );
}
