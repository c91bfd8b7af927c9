import { useId } from 'react';
import { temper } from '../kit/temper';
import { showLength, showSpeed, type ShopUnits } from '../kit/units';
import { kept, type Bench, type Curve } from './model';
import styles from './window.module.css';

const W = 330;
const H = 168;
const PLOT = { left: 34, right: 8, top: 8, bottom: 46 };
const STRIP = 9; // of the underside, along the foot

interface Props {
  bench: Bench;
  units: ShopUnits;
  quantity: 'speed' | 'height';
  curve: Curve;
  at: number;
  asTable: boolean;
}

/** Bevel of the kept edges along one quantity, with its band and the cuts; along the foot, how clean underneath. */
export function CurveChart(props: Props) {
  const { units, quantity, asTable } = props;
  const unit = quantity === 'speed' ? units.speed_unit : units.length_unit;
  const title = quantity === 'speed' ? `Against speed, ${unit}` : `Against height, ${unit}`;
  return (
    <figure>
      <figcaption>{title}</figcaption>
      {asTable ? <CurveTable {...props} /> : <Picture {...props} title={title} />}
    </figure>
  );
}

const shown = ({ quantity, units }: Pick<Props, 'quantity' | 'units'>, value: number): string =>
  (quantity === 'speed' ? showSpeed(value, units) : showLength(value, units)).text;

function Picture(props: Props & { title: string }) {
  const { bench, curve, at, title } = props;
  const clip = useId();
  const points = curve.points;
  const limit = bench.trial.target.bevel_deg;
  const [from, to] = [points[0]?.at ?? 0, points.at(-1)?.at ?? 1];
  const most = Math.max(4, 2.2 * limit);
  // Speeds lie in equal ratios, heights in equal steps, as on the map.
  const scale = props.quantity === 'speed' ? Math.log : (value: number) => value;
  const x = (value: number) =>
    PLOT.left +
    ((scale(value) - scale(from)) / (scale(to) - scale(from) || 1)) * (W - PLOT.left - PLOT.right);
  const foot = H - PLOT.bottom;
  const y = (deg: number) => PLOT.top + ((most - deg) / (2 * most)) * (foot - PLOT.top);
  const line = points.map((p, i) => `${i ? 'L' : 'M'}${x(p.at)} ${y(p.bevel_deg)}`).join('');
  const band =
    points.map((p, i) => `${i ? 'L' : 'M'}${x(p.at)} ${y(p.high_deg)}`).join('') +
    [...points]
      .reverse()
      .map((p) => `L${x(p.at)} ${y(p.low_deg)}`)
      .join('') +
    'Z';
  const number = new Map(kept(bench).map((c, i) => [i, c.number]));
  const width = (W - PLOT.left - PLOT.right) / Math.max(points.length - 1, 1);
  return (
    <svg viewBox={`0 0 ${W} ${H}`} width="100%" role="img" aria-label={`${title}: see the table`}>
      <clipPath id={clip}>
        <rect x={PLOT.left} y={PLOT.top - 9} width={W - PLOT.left} height={foot - PLOT.top + 9} />
      </clipPath>
      <g clipPath={`url(#${clip})`}>
        <path d={band} fill="var(--expect)" opacity={0.2} />
        <path d={line} fill="none" stroke="var(--expect)" strokeWidth={2.4} />
      </g>
      <path d={`M${PLOT.left} ${y(0)}H${W - PLOT.right}`} stroke="var(--line)" />
      {[limit, -limit].map((deg) => (
        <path
          key={deg}
          d={`M${PLOT.left} ${y(deg)}H${W - PLOT.right}`}
          stroke="var(--limit)"
          strokeWidth={1.6}
          strokeDasharray="5 4"
        />
      ))}
      <path d={`M${x(at)} ${PLOT.top}V${foot + STRIP + 4}`} stroke="var(--ink)" strokeWidth={1.4} />
      {curve.marks.map(
        (m, i) =>
          m.bevel_deg !== null &&
          Math.abs(m.bevel_deg) <= most && (
            <g key={m.cut} opacity={m.on_it ? 1 : 0.45}>
              <circle
                cx={x(m.at)}
                cy={y(m.bevel_deg)}
                r={8}
                fill={m.on_it ? 'var(--rail)' : 'none'}
                stroke={m.on_it ? 'var(--chalk)' : 'var(--ink)'}
                strokeWidth={1.4}
              />
              <text
                x={x(m.at)}
                y={y(m.bevel_deg) + 4}
                fontSize={11}
                fontWeight={640}
                textAnchor="middle"
                fill={m.on_it ? 'var(--chalk)' : 'var(--ink)'}
              >
                {number.get(i)}
              </text>
            </g>
          ),
      )}
      {points.slice(0, -1).map((p) => (
        <rect
          key={p.at}
          x={x(p.at)}
          y={foot + 4}
          width={width + 0.8}
          height={STRIP}
          fill={temper(p.clean)}
        />
      ))}
      <g fontSize={11.5} fill="var(--ink)">
        {[limit, 0, -limit].map((deg) => (
          <text key={deg} x={PLOT.left - 5} y={y(deg) + 4} textAnchor="end">
            {deg === 0 ? '0°' : `${deg > 0 ? '+' : '−'}${Math.abs(deg).toFixed(1)}`}
          </text>
        ))}
        <text x={PLOT.left} y={H - 20}>
          {shown(props, from)}
        </text>
        <text x={W - PLOT.right} y={H - 20} textAnchor="end">
          {shown(props, to)}
        </text>
        <text x={(W + PLOT.left) / 2} y={H - 4} textAnchor="middle" fill="var(--soft)">
          strip: straw, dross or not through; blue, clean enough
        </text>
      </g>
    </svg>
  );
}

function CurveTable(props: Props) {
  return (
    <table className={styles.table}>
      <thead>
        <tr>
          <th scope="col">{props.quantity}</th>
          <th scope="col">kept edges</th>
          <th scope="col">90 in 100 lie in</th>
          <th scope="col">clean, in 100</th>
        </tr>
      </thead>
      <tbody>
        {props.curve.points
          .filter((_, i) => i % 5 === 0)
          .map((p) => (
            <tr key={p.at}>
              <th scope="row">{shown(props, p.at)}</th>
              <td>{p.bevel_deg.toFixed(1)}°</td>
              <td>
                {p.low_deg.toFixed(1)} to {p.high_deg.toFixed(1)}°
              </td>
              <td>{Math.round(100 * p.clean)}</td>
            </tr>
          ))}
      </tbody>
    </table>
  );
}
