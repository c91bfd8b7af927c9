import { NavLink, Outlet } from 'react-router';
import { NoTable } from './NoTable';
import { useTable } from './queries';
import styles from './kit.module.css';

export interface Door {
  to: string;
  name: string;
  end?: boolean;
}

/** A room of several pages at one table, with their doors along the top. */
export function Room({ name, doors }: { name: string; doors: readonly Door[] }) {
  const table = useTable();
  if (table === null) return <NoTable />;
  return (
    <div className={styles.room}>
      <nav className={styles.doors} aria-label={name}>
        {doors.map((d) => (
          <NavLink key={d.to} to={d.to} end={d.end ?? false}>
            {d.name}
          </NavLink>
        ))}
      </nav>
      <Outlet key={table.id} context={table} />
    </div>
  );
}
