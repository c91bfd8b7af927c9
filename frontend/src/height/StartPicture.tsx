import { showLength, withUnit, type ShopUnits } from '../kit/units';
import styles from './height.module.css';
import type { TrialHeight } from './queries';

const [W, H] = [900, 210];
const [LEFT, RIGHT, BASE, TOP] = [16, 884, 150, 34];

/** The torch over the plate from arc strike on: standing, coming down, settling, and under control; below, the way cut
 * in the same time. */
export function StartPicture({ timing, units }: { timing: TrialHeight['timing']; units: ShopUnits }) {
  const t = timing;
  const wakes =
    t.counts_from === 'arc_strike' ? t.control_delay_s : t.pierce_delay_s + t.control_delay_s;
  const span = Math.max(wakes * 1.3, t.settled_after_s * 1.2, 0.4);
  const x = (s: number) => LEFT + (s / span) * (RIGHT - LEFT);
  const y = (mm: number) => BASE - (mm / (t.pierce_height_mm * 1.15)) * (BASE - TOP);
  const down = t.pierce_delay_s + t.drop_s;
  const path = [
    [0, t.pierce_height_mm],
    [t.pierce_delay_s, t.pierce_height_mm],
    [down, t.cut_height_mm],
    [span, t.cut_height_mm],
  ] as const;
  const marks = [
    { at: 0, label: 'arc' },
    { at: t.pierce_delay_s, label: 'moves' },
    { at: t.settled_after_s, label: t.measured ? 'at rest, measured' : 'at rest, worked out' },
    { at: wakes, label: 'control wakes' },
  ];
  return (
    <figure className={styles.start}>
      <svg
        viewBox={`0 0 ${W} ${H}`}
        role="img"
        aria-label={`The torch stands ${t.pierce_delay_s} seconds, comes down in ${t.drop_s.toFixed(2)}, and control wakes at ${wakes.toFixed(2)}`}
      >
        <rect x={LEFT} y={BASE} width={RIGHT - LEFT} height="14" fill="var(--plate)" />
        <rect
          x={x(t.pierce_delay_s)}
          y={BASE + 14}
          width={Math.max(0, x(wakes) - x(t.pierce_delay_s))}
          height="10"
          fill="var(--limit)"
        />
        <rect
          x={x(wakes)}
          y={BASE + 14}
          width={Math.max(0, RIGHT - x(wakes))}
          height="10"
          fill="var(--good)"
        />
        <polyline
          points={path.map(([s, mm]) => `${x(s)},${y(mm)}`).join(' ')}
          fill="none"
          stroke="var(--ink)"
          strokeWidth="3"
        />
        {marks.map((m, i) => (
          <g key={m.label}>
            <line
              x1={x(m.at)}
              x2={x(m.at)}
              y1={TOP - 4}
              y2={BASE}
              stroke="var(--soft)"
              strokeDasharray="3 4"
            />
            <text
              x={Math.min(x(m.at) + 5, RIGHT - 160)}
              y={i % 2 === 0 ? 14 : 30}
              fill="var(--ink)"
              fontSize="15"
            >
              {m.label} {m.at.toFixed(2)} s
            </text>
          </g>
        ))}
        <text x={x(t.pierce_delay_s) + 4} y={BASE + 44} fill="var(--ink)" fontSize="16">
          blind {withUnit(showLength(t.blind_mm, units))}
        </text>
        <text x={RIGHT} y={BASE + 44} textAnchor="end" fill="var(--ink)" fontSize="16">
          under control
        </text>
        <text x={LEFT + 4} y={y(t.pierce_height_mm) - 6} fill="var(--soft)" fontSize="15">
          {withUnit(showLength(t.pierce_height_mm, units))}
        </text>
        <text x={RIGHT} y={y(t.cut_height_mm) - 6} textAnchor="end" fill="var(--soft)" fontSize="15">
          {withUnit(showLength(t.cut_height_mm, units))}
        </text>
      </svg>
    </figure>
  );
}
