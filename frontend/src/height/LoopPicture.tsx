import { useUnits } from '../kit/queries';
import { showSize } from '../kit/units';
import styles from './height.module.css';
import type { LoopRun } from './queries';

const [W, H, PAD] = [900, 170, 12];

/** Plate and torch along the cut, from the side; heights are exaggerated, and it says by how much. */
export function LoopPicture({ run }: { run: LoopRun }) {
  const units = useUnits();
  const whole = run.way_mm.at(-1) ?? 1;
  const top = Math.max(...run.torch_mm, ...run.plate_mm, 3);
  const low = Math.min(...run.plate_mm, 0);
  const x = (mm: number) => PAD + (mm / whole) * (W - 2 * PAD);
  const y = (mm: number) => 12 + ((top - mm) / (top - low)) * (H - 44);
  const points = (values: number[]) =>
    values.map((v, i) => `${x(run.way_mm[i] ?? 0).toFixed(1)},${y(v).toFixed(1)}`).join(' ');
  const plate = `${points(run.plate_mm)} ${W - PAD},${H - 14} ${PAD},${H - 14}`;
  const times = Math.round((H - 44) / (top - low) / ((W - 2 * PAD) / whole));
  return (
    <>
      <svg viewBox={`0 0 ${W} ${H}`} className={styles.loopPicture} role="img" aria-label={run.says}>
        <polygon points={plate} fill="var(--plate)" />
        <polyline points={points(run.torch_mm)} fill="none" stroke="var(--ink)" strokeWidth="2.4" />
        {stretches(run.control).map(([a, b]) => (
          <rect
            key={a}
            x={x(run.way_mm[a] ?? 0)}
            width={Math.max(1, x(run.way_mm[b] ?? 0) - x(run.way_mm[a] ?? 0))}
            y={H - 12}
            height="7"
            fill="var(--good)"
          />
        ))}
        {run.strikes.slice(0, 60).map((mm) => (
          <path key={mm} d={`M${x(mm)} 8 l7 12 h-14 z`} fill="var(--bad)" />
        ))}
      </svg>
      <p className={styles.soft}>
        Heights × {times}, {showSize(whole, units).text} {units.length_unit} of cut; green: under
        control.
      </p>
    </>
  );
}

/** Where a flag holds, as first and last. */
function stretches(flags: boolean[]): [number, number][] {
  const found: [number, number][] = [];
  flags.forEach((on, i) => {
    const last = found.at(-1);
    if (on && last?.[1] === i - 1) last[1] = i;
    else if (on) found.push([i, i]);
  });
  return found;
}
