import type { Sheet } from './queries';
import styles from './book.module.css';

type Number_ = 'speed_mm_min' | 'arc_voltage_v' | 'kerf_mm' | 'pierce_delay_s';

interface Props {
  sheet: Sheet;
  quantity: Number_;
  title: string;
  unit: string;
  /** A kept value as it is shown. */
  show: (value: number) => string;
  thickness: (mm: number) => string;
  inLog: boolean;
}

const W = 540;
const H = 236;
const LEFT = 62;
const BOTTOM = 34;

/** One number over thickness: rows, proven settings, and the line that Orthotome reads between. */
export function TrendChart({ sheet, quantity, title, unit, show, thickness, inLog }: Props) {
  const rows = sheet.rows.flatMap((r) =>
    r[quantity] === null ? [] : [{ id: r.id, t: r.thickness_mm, v: r[quantity] }],
  );
  const recipes = sheet.recipes.flatMap((r) =>
    r.values[quantity] === null ? [] : [{ id: r.recipe_id, t: r.thickness_mm, v: r.values[quantity] }],
  );
  const line = sheet.curve.flatMap((c) =>
    c.values[quantity] === null ? [] : [{ t: c.thickness_mm, v: c.values[quantity], beyond: c.beyond }],
  );
  const broken = new Map(sheet.breaks.filter((b) => b.quantity === quantity).map((b) => [b.row_id, b]));
  const all = [...rows, ...recipes, ...[...broken.values()].map((b) => ({ t: 0, v: b.expected }))];
  if (rows.length === 0) return null;
  const log = inLog && all.every((p) => p.v > 0);
  const ts = [...rows, ...recipes].map((p) => p.t);
  const x = scale(Math.min(...ts) * 0.88, Math.max(...ts) * 1.12, LEFT, W - 10, inLog);
  const [low, high] = [Math.min(...all.map((p) => p.v)), Math.max(...all.map((p) => p.v))];
  const pad = log ? 1.18 : 0;
  const room = (high - low || high || 1) * 0.14;
  const y = log
    ? scale(low / pad, high * pad, H - BOTTOM, 12, true)
    : scale(Math.max(0, low - room), high + room, H - BOTTOM, 12, false);
  const path = (points: { t: number; v: number }[]) =>
    points.map((p, i) => `${i === 0 ? 'M' : 'L'}${x(p.t).toFixed(1)} ${y(p.v).toFixed(1)}`).join('');
  const inside = line.filter((p) => !p.beyond);
  const [first, last] = [inside[0], inside.at(-1)];
  const under = line.filter((p) => p.beyond && first && p.t < first.t);
  const over = line.filter((p) => p.beyond && last && p.t > last.t);
  return (
    <figure className={styles.trend}>
      <figcaption>
        {title}, {unit}
      </figcaption>
      <svg
        viewBox={`0 0 ${W} ${H}`}
        role="img"
        aria-label={`${title} over thickness: ${rows.map((r) => `${thickness(r.t)}: ${show(r.v)}`).join(', ')}. The rows below hold the figures.`}
      >
        <clipPath id={`in-${quantity}`}>
          <rect x={LEFT} y={0} width={W - LEFT} height={H - BOTTOM} />
        </clipPath>
        <path d={`M${LEFT} 6V${H - BOTTOM}H${W}`} fill="none" stroke="var(--soft)" strokeWidth={1.2} />
        <g clipPath={`url(#in-${quantity})`}>
          <path d={path(inside)} fill="none" stroke="var(--accent)" strokeWidth={2.4} />
          {[first ? [...under, first] : [], last ? [last, ...over] : []].map((part, i) => (
            <path
              key={i}
              d={path(part)}
              fill="none"
              stroke="var(--accent)"
              strokeWidth={2}
              strokeDasharray="3 6"
            />
          ))}
        </g>
        {spaced(rows, (r) => y(r.v)).map((r) => (
          <text key={r.id} x={LEFT - 8} y={y(r.v) + 5} textAnchor="end" {...label}>
            {show(r.v)}
          </text>
        ))}
        {spaced(rows, (r) => x(r.t), 42).map((r) => (
          <text key={r.id} x={x(r.t)} y={H - 10} textAnchor="middle" {...label}>
            {thickness(r.t)}
          </text>
        ))}
        {rows.map((r) => {
          const wrong = broken.get(r.id);
          return (
            <g key={r.id}>
              {wrong && (
                <>
                  <path
                    d={`M${x(r.t)} ${y(r.v)}V${y(wrong.expected)}`}
                    stroke="var(--bad)"
                    strokeWidth={2}
                    strokeDasharray="4 4"
                  />
                  <circle
                    cx={x(r.t)}
                    cy={y(wrong.expected)}
                    r={6}
                    fill="none"
                    stroke="var(--bad)"
                    strokeWidth={2}
                  />
                  <text x={x(r.t) + 13} y={y(r.v) + 5} {...label} fill="var(--bad)" fontWeight={640}>
                    breaks the trend
                  </text>
                </>
              )}
              <rect
                x={x(r.t) - 6}
                y={y(r.v) - 6}
                width={12}
                height={12}
                fill={wrong ? 'var(--bad)' : 'var(--ink)'}
              />
            </g>
          );
        })}
        {recipes.map((r) => (
          <path
            key={r.id}
            d={`M${x(r.t)} ${y(r.v) - 10}l10 10l-10 10l-10 -10Z`}
            fill="var(--bronze)"
            stroke="var(--ink)"
            strokeWidth={1.6}
          />
        ))}
      </svg>
    </figure>
  );
}

const label = { fontSize: 14.5, fill: 'var(--soft)' } as const;

function scale(low: number, high: number, from: number, to: number, log: boolean) {
  const at = log ? Math.log : (v: number) => v;
  const [a, b] = [at(low), at(high)];
  return (v: number) => from + ((at(v) - a) / (b - a || 1)) * (to - from);
}

/** Those of the points whose labels do not run into each other. */
function spaced<P>(points: P[], at: (p: P) => number, apart = 19): P[] {
  const kept: P[] = [];
  for (const p of points) {
    if (kept.every((k) => Math.abs(at(k) - at(p)) >= apart)) kept.push(p);
  }
  return kept;
}
