import { Link } from 'react-router';
import styles from './parts.module.css';
import type { Parts } from './queries';

const NAMES = { trim: 'The trim', alignment: 'The alignment', parts: 'The parts' } as const;
const LINKS = { trim: '/height/set-point', alignment: '/torch/jet', parts: null } as const;

/** When edges drift: whom to ask first, and what points at whom. */
export function Suspects({ suspects }: { suspects: Parts['suspects'] }) {
  return (
    <section className={styles.suspects} aria-labelledby="suspects">
      <h2 id="suspects">If the edges drift, ask in this order</h2>
      <ol>
        {suspects.map((s) => (
          <li key={s.suspect} data-points={s.points}>
            <strong>
              {NAMES[s.suspect]} {s.points === true ? '▲' : s.points === false ? '■' : '□'}
              <span className="hidden-text">
                {s.points === true ? 'points here' : s.points === false ? 'not here' : 'not known'}
              </span>
            </strong>
            <p>{s.shows}</p>
            {s.points !== false && (
              <p className={styles.do}>
                {s.do} {LINKS[s.suspect] && <Link to={LINKS[s.suspect] ?? ''}>Go there</Link>}
              </p>
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}
