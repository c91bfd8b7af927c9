import { NavLink, Outlet } from 'react-router';
import { NoTable } from '../kit/NoTable';
import { useTable } from '../kit/queries';
import styles from './height.module.css';

const DOORS = [
  { to: '/height', name: 'Live cut', end: true },
  { to: '/height/set-point', name: 'Set-point' },
  { to: '/height/timing', name: 'Timing' },
  { to: '/height/loop', name: 'Over a warped sheet' },
  { to: '/height/recordings', name: 'Recordings' },
  { to: '/height/signal-path', name: 'Signal path' },
] as const;

/** The room of height: the live cut, what to set and why, what was recorded, and the way of the volts to the screen. */
export function HeightRoom() {
  const table = useTable();
  if (table === null) return <NoTable />;
  return (
    <div className={styles.room}>
      <nav className={styles.doors} aria-label="Height">
        {DOORS.map((d) => (
          <NavLink key={d.to} to={d.to} end={'end' in d}>
            {d.name}
          </NavLink>
        ))}
      </nav>
      <Outlet key={table.id} context={table} />
    </div>
  );
}
