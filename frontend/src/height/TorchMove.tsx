import type { Examined } from './queries';

const PLATE_Y = 92;
const RIGHT_Y = 62; // where the nozzle should be
const PER_MM = 11;

/** The nozzle where it should be (dashed) and where it goes, over the plate. */
export function TorchMove({
  torch,
  error,
}: {
  torch: Examined['report']['torch'];
  error: number | null;
}) {
  const goes = { flies_up: 46, dives: -30, rides_high: 0, rides_low: 0, holds: 0 }[torch];
  const up = error === null ? goes : Math.max(-30, Math.min(46, error * PER_MM));
  const y = RIGHT_Y - up;
  const leaves = error === null && torch !== 'holds';
  return (
    <svg viewBox="0 -22 240 138" width="100%" style={{ maxWidth: 300 }} aria-hidden="true">
      <rect x={0} y={PLATE_Y} width={240} height={20} fill="var(--plate)" />
      <Nozzle y={RIGHT_Y} dashed />
      <Nozzle y={y} />
      {Math.abs(up) > 4 && (
        <path
          d={`M168 ${RIGHT_Y}V${y}m-6 ${up > 0 ? 8 : -8}l6 ${up > 0 ? -8 : 8}l6 ${up > 0 ? 8 : -8}`}
          fill="none"
          stroke="var(--bad)"
          strokeWidth={3}
          strokeDasharray={leaves ? undefined : '1 0'}
        />
      )}
      <path d={`M120 ${y}V${PLATE_Y}`} stroke="var(--arc)" strokeWidth={5} opacity={up < -20 ? 0 : 1} />
    </svg>
  );
}

function Nozzle({ y, dashed }: { y: number; dashed?: boolean }) {
  return (
    <path
      d={`M96 ${y - 34}H144V${y - 14}L128 ${y}H112L96 ${y - 14}Z`}
      fill={dashed ? 'none' : 'var(--soft)'}
      stroke="var(--ink)"
      strokeWidth={dashed ? 1.4 : 1.8}
      strokeDasharray={dashed ? '5 4' : undefined}
    />
  );
}
