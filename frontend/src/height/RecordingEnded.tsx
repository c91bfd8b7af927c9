import { Link } from 'react-router';
import type { Schema } from '../kit/client';
import styles from './live.module.css';

/** What the recording that ended last came to. */
export function RecordingEnded({ ended }: { ended: Schema['RecordingEnded'] }) {
  return (
    <section className={styles.ended} aria-labelledby="ended">
      <h2 id="ended">The last cut</h2>
      {ended.steady_v === null ? (
        <p>Its voltage never came to rest: there is none for the log.</p>
      ) : (
        <p>
          <b className="number">{ended.steady_v.toFixed(1)}</b> V
          {ended.spread_v !== null && ` ± ${ended.spread_v.toFixed(1)}`}, steady
        </p>
      )}
      <ul>
        <li>
          {ended.starts} {ended.starts === 1 ? 'start' : 'starts'} and {ended.arc_on_s.toFixed(1)} s of
          arc counted on the fitted parts
        </li>
        {ended.settled_after_s !== null && (
          <li>settled {ended.settled_after_s.toFixed(2)} s after the arc</li>
        )}
        {ended.off_plate > 0 && (
          <li>
            the arc ended off the plate{ended.off_plate > 1 ? `, ${ended.off_plate} times` : ''}: that
            costs the electrode the life of several starts
          </li>
        )}
        {ended.noticed.length > 0 && <li>noticed: {ended.noticed.join(', ')}</li>}
        {ended.interrupted && <li>{ended.interrupted}</li>}
      </ul>
      <p>
        <Link to={`/height/recordings/${ended.trace_id}`}>Read the recording</Link>
      </p>
    </section>
  );
}
