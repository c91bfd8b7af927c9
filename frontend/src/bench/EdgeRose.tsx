import { wayInWords } from '../kit/ways';
import { showDegrees } from '../kit/units';
import styles from './bench.module.css';
import { isWild, lastCut, type Bench } from './model';

const SIZE = 132;

/** The kept edges of the last cut by direction of travel, and what makes up their bevel. */
export function EdgeRose({ bench }: { bench: Bench }) {
  const cut = lastCut(bench);
  const { parts, trial } = bench;
  const read = cut?.edges.filter((e) => e.side === trial.good_side) ?? [];
  if (!cut || read.length === 0 || !parts) {
    return (
      <p className={styles.empty}>
        Cut and read the first square: the four directions tell speed and height from a leaning jet.
      </p>
    );
  }
  const most = Math.max(1.6 * trial.target.bevel_deg, ...read.map((e) => Math.abs(e.bevel_deg)));
  const scale = (SIZE / 2 - 8) / most;
  const limit = trial.target.bevel_deg * scale;
  return (
    <div className={styles.rose}>
      <figure>
        <svg
          viewBox={`${-SIZE / 2} ${-SIZE / 2} ${SIZE} ${SIZE}`}
          width={SIZE}
          role="img"
          aria-label={read
            .map(
              (e) =>
                `cut ${wayInWords(e.heading_deg)}: ${showDegrees(e.bevel_deg)}${isWild(e) ? ', likely misread' : ''}`,
            )
            .join(', ')}
        >
          <circle r={limit} fill="none" stroke="var(--limit)" strokeWidth={1.6} strokeDasharray="4 4" />
          <circle r={SIZE / 2 - 8} fill="none" stroke="var(--line)" />
          {read.map((e) => {
            const angle = (-e.heading_deg * Math.PI) / 180;
            const r = Math.max(4, Math.abs(e.bevel_deg) * scale);
            const [x, y] = [Math.cos(angle) * r, Math.sin(angle) * r];
            const under = e.bevel_deg < 0;
            const struck = isWild(e);
            return (
              <g key={e.id} opacity={struck ? 0.5 : 1}>
                <path
                  d={`M0 0L${x} ${y}`}
                  stroke="var(--ink)"
                  strokeWidth={4}
                  strokeDasharray={under ? '3 3' : undefined}
                />
                <circle
                  cx={x}
                  cy={y}
                  r={5}
                  fill={under ? 'var(--ground)' : 'var(--ink)'}
                  stroke="var(--ink)"
                  strokeWidth={2}
                />
                {struck && (
                  <path d={`M${x - 9} ${y - 9}L${x + 9} ${y + 9}`} stroke="var(--bad)" strokeWidth={3} />
                )}
              </g>
            );
          })}
        </svg>
        <figcaption>
          By travel: ● bottom out, ○ undercut{read.some(isWild) && '; struck through: likely misread'}
        </figcaption>
      </figure>
      <dl>
        <div>
          <dt>Speed and height</dt>
          <dd>
            <strong>{showDegrees(parts.process_deg)}</strong> ± {parts.process_sd_deg.toFixed(1)}
          </dd>
        </div>
        <div>
          <dt>Swirl, {trial.good_side} squarer by</dt>
          <dd>
            <strong>{showDegrees(2 * parts.swirl_deg).replace('+', '')}</strong> ±{' '}
            {(2 * parts.swirl_sd_deg).toFixed(1)}
          </dd>
        </div>
        <div>
          <dt>
            Jet lean
            {parts.lean_told ? ` ${wayInWords(parts.lean_toward_deg)}` : ', direction unsure'}
          </dt>
          <dd>
            <strong>{parts.lean_deg.toFixed(1)}°</strong> ± {parts.lean_sd_deg.toFixed(1)}
          </dd>
        </div>
        {parts.left_over_deg !== null && (
          <div>
            <dt>Not explained</dt>
            <dd>
              {parts.left_over_deg.toFixed(1)}°,{' '}
              {parts.left_over_is_gauge ? 'no more than the gauge' : 'more than the gauge'}
            </dd>
          </div>
        )}
      </dl>
    </div>
  );
}
