import { useUnits } from '../kit/queries';
import { showLength } from '../kit/units';
import styles from './height.module.css';
import type { TrialHeight } from './queries';

const [W, H, LEFT, FOOT] = [460, 240, 52, 40];

/** Volts over height: the cuts as points (those of this trial filled), the line with its uncertainty. */
export function HeightPoints({ height }: { height: TrialHeight }) {
  const units = useUnits();
  const { volts } = height;
  if (volts.level_v === null || volts.level_height_mm === null || volts.points.length === 0) return null;
  const [levelV, levelH] = [volts.level_v, volts.level_height_mm];
  const heights = volts.points.map((p) => p.height_mm);
  const low = Math.min(...heights, levelH) - 0.4;
  const high = Math.max(...heights, levelH) + 0.4;
  const line = (h: number, slope: number) => levelV + slope * (h - levelH);
  const all = [
    ...volts.points.map((p) => p.volts_v),
    line(low, volts.slope_v_per_mm),
    line(high, volts.slope_v_per_mm),
  ];
  const [least, most] = [Math.min(...all) - 2, Math.max(...all) + 2];
  const x = (h: number) => LEFT + ((h - low) / (high - low)) * (W - LEFT - 10);
  const y = (v: number) => 10 + ((most - v) / (most - least)) * (H - FOOT - 10);
  const steep = volts.slope_v_per_mm + 2 * volts.slope_sd;
  const flat = volts.slope_v_per_mm - 2 * volts.slope_sd;
  const fan = [
    [low, steep],
    [levelH, steep],
    [high, steep],
    [high, flat],
    [levelH, flat],
    [low, flat],
  ] as const;
  const ticks = [low + 0.4, levelH, high - 0.4].filter(
    (t, i, a) => i === 0 || t - (a[i - 1] ?? 0) > 0.2,
  );
  return (
    <figure className={styles.points}>
      <svg viewBox={`0 0 ${W} ${H}`} role="img" aria-label="Volts over height, cut by cut">
        <polygon
          points={fan.map(([h, s]) => `${x(h)},${y(line(h, s))}`).join(' ')}
          fill="var(--line)"
          opacity="0.6"
        />
        <line
          x1={x(low)}
          y1={y(line(low, volts.slope_v_per_mm))}
          x2={x(high)}
          y2={y(line(high, volts.slope_v_per_mm))}
          stroke="var(--expect)"
          strokeWidth="2"
        />
        {volts.points.map((p, i) => (
          <circle
            key={i}
            cx={x(p.height_mm)}
            cy={y(p.volts_v)}
            r="6"
            fill={p.here ? 'var(--ink)' : 'none'}
            stroke="var(--ink)"
            strokeWidth="2"
          />
        ))}
        {ticks.map((t) => (
          <text key={t} x={x(t)} y={H - 16} textAnchor="middle" fill="var(--soft)" fontSize="15">
            {showLength(t, units).text}
          </text>
        ))}
        {[least + 2, (least + most) / 2, most - 2].map((v) => (
          <text key={v} x={LEFT - 8} y={y(v) + 5} textAnchor="end" fill="var(--soft)" fontSize="15">
            {v.toFixed(0)}
          </text>
        ))}
        <text x={W - 10} y={H - 1} textAnchor="end" fill="var(--soft)" fontSize="14">
          height, {units.length_unit}
        </text>
        <text x={4} y={12} fill="var(--soft)" fontSize="14">
          V
        </text>
      </svg>
      <figcaption className={styles.soft}>
        Cuts at set heights: filled, of this trial; open, of earlier ones in the same class. The fan is
        two sigma of the slope.
      </figcaption>
    </figure>
  );
}
