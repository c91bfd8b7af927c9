import { NOTHING_V } from '../kit/words.gen';
import type { Schema } from '../kit/client';
import { showLength, type ShopUnits } from '../kit/units';
import styles from './practice.module.css';

type Arc = Schema['ArcPicture'];
type Series = readonly (number | null)[];

const [W, H, LEFT, RIGHT, HEAD, FOOT] = [560, 170, 52, 8, 10, 24];
const HIGHEST_MM = 4; // of the drawn height: a torch that flies up leaves the picture

/** A run under control as the exercise begins, beside that of a table with nothing wrong: its volts, and the torch's height. */
export function ArcBeside({ arc, units }: { arc: Arc; units: ShopUnits }) {
  const lit = (v: number | null) => (v !== null && v > NOTHING_V ? v : null);

  return (
    <figure className={styles.truthMap}>
      <figcaption>Under control as it began, beside a table with nothing wrong</figcaption>
      <Beside
        title="Volts"
        unit="V"
        say={(v) => v.toFixed(0)}
        here={[arc.at_s, arc.volts_v.map(lit)]}
        sound={[arc.sound_at_s, arc.sound_volts_v.map(lit)]}
      />
      <Beside
        title="Height of the torch"
        unit={units.length_unit}
        say={(v) => showLength(v, units).text}
        here={[arc.at_s, arc.height_mm]}
        sound={[arc.sound_at_s, arc.sound_height_mm]}
        most={HIGHEST_MM}
      />
      <p className={styles.key}>
        <b className={styles.here}>━</b> this table <b className={styles.sound}>━</b> nothing wrong
      </p>
    </figure>
  );
}

function Beside(p: {
  title: string;
  unit: string;
  say: (v: number) => string;
  here: readonly [readonly number[], Series];
  sound: readonly [readonly number[], Series];
  most?: number;
}) {
  const values = [...p.here[1], ...p.sound[1]].filter((v) => v !== null);
  const high = Math.min(Math.max(...values), p.most ?? Infinity);
  const low = Math.min(...values);
  const end = Math.max(...p.here[0], ...p.sound[0]);
  const x = (s: number) => LEFT + (s / end) * (W - LEFT - RIGHT);
  const y = (v: number) => HEAD + ((high - Math.min(v, high)) / (high - low || 1)) * (H - HEAD - FOOT);

  return (
    <svg
      viewBox={`0 0 ${W} ${H}`}
      role="img"
      aria-label={`${p.title} over time, of this table and of one with nothing wrong`}
    >
      {[low, high].map((v) => (
        <g key={v}>
          <line x1={LEFT} x2={W} y1={y(v)} y2={y(v)} stroke="var(--line)" />
          <text x={LEFT - 6} y={y(v) + 5} textAnchor="end" fontSize="15" fill="var(--soft)">
            {p.say(v)}
          </text>
        </g>
      ))}
      <text x={LEFT} y={H - 4} fontSize="15" fill="var(--soft)">
        {p.title}, {p.unit}
      </text>
      <text x={W} y={H - 4} textAnchor="end" fontSize="15" fill="var(--soft)">
        {end.toFixed(0)} s
      </text>
      <path d={drawn(p.sound, x, y)} className={styles.soundLine} />
      <path d={drawn(p.here, x, y)} className={styles.hereLine} />
    </svg>
  );
}

/** A path through what is known; a gap where nothing is. */
function drawn(
  [at, values]: readonly [readonly number[], Series],
  x: (s: number) => number,
  y: (v: number) => number,
): string {
  return values
    .map((v, i) => {
      if (v === null) return '';
      const pen = i === 0 || values[i - 1] === null ? 'M' : 'L';
      return `${pen}${x(at[i] ?? 0).toFixed(1)} ${y(v).toFixed(1)}`;
    })
    .join('');
}
