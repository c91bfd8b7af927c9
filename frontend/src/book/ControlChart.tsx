import { showLength, type ShopUnits } from '../kit/units';
import type { Check, Watch } from './queries';
import styles from './watching.module.css';

const [W, H, LEFT, HEAD, FOOT] = [380, 150, 54, 22, 24];

interface Lane {
  title: string;
  value: (c: Check) => number | null;
  proven: number | null;
  limits: [number, number] | null;
  text: (n: number) => string;
}

/** Bevel, volts and kerf over the starts since the proof, each with what was proven and its limits. */
export function ControlChart({ watch, units }: { watch: Watch; units: ShopUnits }) {
  const lanes: Lane[] = [
    {
      title: 'Worst edge, degrees',
      value: (c) => c.bevel_deg,
      proven: watch.proven_deg,
      limits: [-watch.limit_deg, watch.limit_deg],
      text: (n) => `${n < 0 ? '−' : '+'}${Math.abs(n).toFixed(1)}`,
    },
    {
      title: 'Volts at the set height',
      value: (c) => (c.height_held ? null : c.arc_voltage_v),
      proven: watch.proven_v,
      limits: null,
      text: (n) => n.toFixed(0),
    },
    {
      title: `Kerf, ${units.length_unit}`,
      value: (c) => c.kerf_mm,
      proven: watch.proven_kerf_mm,
      limits: null,
      text: (n) => showLength(n, units).text,
    },
  ];
  const kept = watch.checks.filter((c) => !c.struck_out);
  return (
    <div className={styles.charts}>
      {lanes
        .filter((l) => kept.some((c) => l.value(c) !== null))
        .map((l) => (
          <LaneChart key={l.title} lane={l} checks={kept} watch={watch} />
        ))}
    </div>
  );
}

function LaneChart({ lane, checks, watch }: { lane: Lane; checks: Check[]; watch: Watch }) {
  const read = checks.flatMap((c) => {
    const v = lane.value(c);
    return v === null ? [] : [{ at: c.since_proof, v, id: c.id }];
  });
  const most = Math.max(watch.since_proof, ...read.map((r) => r.at), 100);
  const all = [
    ...read.map((r) => r.v),
    ...(lane.limits ?? []),
    ...(lane.proven !== null ? [lane.proven] : []),
  ];
  const room = Math.max(
    0.15 * (Math.max(...all) - Math.min(...all)),
    0.02 * Math.abs(all[0] ?? 1),
    0.02,
  );
  const [low, high] = [Math.min(...all) - room, Math.max(...all) + room];
  const x = (at: number) => LEFT + (at / most) * (W - LEFT - 12);
  const y = (v: number) => HEAD + ((high - v) / (high - low)) * (H - HEAD - FOOT);
  const line = (v: number, limit: boolean) => (
    <g key={`${v}${limit}`}>
      <line
        x1={LEFT}
        x2={W}
        y1={y(v)}
        y2={y(v)}
        stroke={limit ? 'var(--limit)' : 'var(--expect)'}
        strokeDasharray={limit ? '7 5' : undefined}
        strokeWidth="2"
      />
      <text x={LEFT - 6} y={y(v) + 5} textAnchor="end" fontSize="14" fill="var(--soft)">
        {lane.text(v)}
      </text>
    </g>
  );
  return (
    <figure>
      <figcaption>{lane.title}</figcaption>
      <svg
        viewBox={`0 0 ${W} ${H}`}
        role="img"
        aria-label={`${lane.title}; the table below has every check`}
      >
        {lane.limits?.map((v) => line(v, true))}
        {lane.proven !== null && line(lane.proven, false)}
        <polyline
          points={read.map((r) => `${x(r.at)},${y(r.v)}`).join(' ')}
          fill="none"
          stroke="var(--soft)"
          strokeWidth="1.5"
        />
        {read.map((r) => {
          const out = lane.limits && (r.v < lane.limits[0] || r.v > lane.limits[1]);
          return out ? (
            <path key={r.id} d={`M${x(r.at)} ${y(r.v) - 7}l7 12h-14z`} fill="var(--bad)" />
          ) : (
            <rect key={r.id} x={x(r.at) - 5} y={y(r.v) - 5} width="10" height="10" fill="var(--ink)" />
          );
        })}
        <text x={LEFT} y={H - 4} fontSize="14" fill="var(--soft)">
          proven
        </text>
        <text x={W - 8} y={H - 4} textAnchor="end" fontSize="14" fill="var(--soft)">
          {most} starts
        </text>
      </svg>
    </figure>
  );
}
