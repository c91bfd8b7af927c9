import { showLength, type ShopUnits } from '../kit/units';
import type { Parts } from './queries';
import styles from './parts.module.css';

const [W, H, LEFT, FOOT, HEAD] = [560, 210, 52, 34, 14];

/** The pit over the starts: as it was measured, as it is, and where it goes, with where nine of ten would lie. */
export function PitChart({ forecast, units }: { forecast: Parts['forecast']; units: ShopUnits }) {
  const { line, limit_mm: limit, points } = forecast;
  const most = Math.max(...line.map((p) => p.starts), 1);
  const top = limit * 1.25;
  const x = (starts: number) => LEFT + (starts / most) * (W - LEFT - 8);
  const y = (mm: number) => HEAD + (1 - Math.min(mm, top) / top) * (H - HEAD - FOOT);
  const said = (mm: number) => `${showLength(mm, units).text} ${units.length_unit}`;
  const at = forecast.starts;
  const band = [
    ...line.map((p) => `${x(p.starts)},${y(p.high_mm)}`),
    ...[...line].reverse().map((p) => `${x(p.starts)},${y(p.low_mm)}`),
  ].join(' ');
  return (
    <figure className={styles.chart}>
      <svg
        viewBox={`0 0 ${W} ${H}`}
        role="img"
        aria-label="Pit over starts; the table below has its numbers"
      >
        <polygon points={band} fill="var(--line)" />
        <line
          x1={LEFT}
          x2={W}
          y1={y(limit)}
          y2={y(limit)}
          stroke="var(--limit)"
          strokeDasharray="7 5"
          strokeWidth="2"
        />
        <text x={W - 8} y={y(limit) - 6} textAnchor="end" fontSize="15" fill="var(--ink)">
          limit {said(limit)}
        </text>
        <polyline
          points={line.map((p) => `${x(p.starts)},${y(p.mid_mm)}`).join(' ')}
          fill="none"
          stroke="var(--expect)"
          strokeWidth="2.5"
        />
        <line x1={x(at)} x2={x(at)} y1={HEAD} y2={H - FOOT} stroke="var(--ink)" strokeWidth="1.5" />
        <text
          x={x(at) + (at > most * 0.8 ? -6 : 6)}
          y={HEAD + 12}
          textAnchor={at > most * 0.8 ? 'end' : 'start'}
          fontSize="15"
          fill="var(--ink)"
        >
          now
        </text>
        {points.map((p) => (
          <g key={`${p.starts},${p.pit_mm}`}>
            <line
              x1={x(p.starts)}
              x2={x(p.starts)}
              y1={y(p.pit_mm + p.u_mm)}
              y2={y(Math.max(0, p.pit_mm - p.u_mm))}
              stroke="var(--ink)"
              strokeWidth="2"
            />
            <rect x={x(p.starts) - 5} y={y(p.pit_mm) - 5} width="10" height="10" fill="var(--ink)" />
          </g>
        ))}
        <line x1={LEFT} x2={W} y1={H - FOOT} y2={H - FOOT} stroke="var(--soft)" />
        {[0, 0.5, 1].map((s) => (
          <text
            key={s}
            x={x(s * most)}
            y={H - 10}
            textAnchor={s === 0 ? 'start' : s === 1 ? 'end' : 'middle'}
            fontSize="15"
            fill="var(--soft)"
          >
            {Math.round((s * most) / 10) * 10}
            {s === 1 ? ' starts' : ''}
          </text>
        ))}
        <text x={LEFT - 8} y={y(0) + 1} textAnchor="end" fontSize="15" fill="var(--soft)">
          0
        </text>
      </svg>
      <details>
        <summary>As numbers</summary>
        <table>
          <thead>
            <tr>
              <th scope="col">Starts</th>
              <th scope="col">Pit, {units.length_unit}</th>
              <th scope="col">90 in 100</th>
            </tr>
          </thead>
          <tbody>
            {points.map((p) => (
              <tr key={`m${p.starts}`}>
                <th scope="row">{p.starts}, measured</th>
                <td>{showLength(p.pit_mm, units).text}</td>
                <td>± {showLength(p.u_mm, units).text}</td>
              </tr>
            ))}
            {line
              .filter((p) => p.starts >= at)
              .filter((_, i) => i % 4 === 0)
              .map((p) => (
                <tr key={p.starts}>
                  <th scope="row">{p.starts}</th>
                  <td>{showLength(p.mid_mm, units).text}</td>
                  <td>
                    {showLength(p.low_mm, units).text} to {showLength(p.high_mm, units).text}
                  </td>
                </tr>
              ))}
          </tbody>
        </table>
      </details>
    </figure>
  );
}
