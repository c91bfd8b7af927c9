import { Link } from 'react-router';
import styles from './parts.module.css';
import type { Parts } from './queries';

/** After a collision, until the lean was read: what is done, in its order. */
export function Collided({ steps }: { steps: Parts['after_a_collision'] }) {
  return (
    <section className={styles.collided} aria-labelledby="collided">
      <h2 id="collided">▲ The torch collided: nothing is known of its lean</h2>
      <ol>
        {steps.map((s) => (
          <li key={s.name}>
            <strong>{s.name}</strong> {s.do}
          </li>
        ))}
      </ol>
      <Link to="/torch/jet">Read a slug</Link>
    </section>
  );
}
