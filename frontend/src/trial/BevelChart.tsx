import { ChartsReferenceLine } from '@mui/x-charts/ChartsReferenceLine';
import { LineChart } from '@mui/x-charts/LineChart';
import { useTheme } from '@mui/material/styles';
import type { Bench } from '../kit/client';
import styles from './trial.module.css';

/** Mean bevel of each side from cut to cut, with the target's bounds. The cuts below are its table. */
export function BevelChart({ bench }: { bench: Bench }) {
  const { palette } = useTheme();
  const cuts = bench.cuts.filter((c) => !c.struck_out);
  const limit = bench.trial.target.bevel_deg;
  const read = cuts.flatMap((c) => [c.bevel_right_deg, c.bevel_left_deg]).filter((b) => b !== null);
  const shown = cuts.filter((c) => c.bevel_right_deg !== null || c.bevel_left_deg !== null);
  if (shown.length < 2)
    return (
      <p className={styles.said}>
        {shown.length === 0 ? 'No edge is read yet.' : 'One cut is read.'} From two on, the way from cut
        to cut is drawn here.
      </p>
    );
  // The bounds lie in the picture, whatever was read: a line drawn at its edge would say another number.
  const most = Math.ceil(1.15 * Math.max(limit, ...read.map(Math.abs)));
  return (
    <figure
      className={styles.chart}
      aria-label="Bevel of each side by cut; the list below holds the figures"
    >
      <figcaption>Mean bevel by cut, degrees; dashed: the target</figcaption>
      <LineChart
        height={220}
        skipAnimation
        xAxis={[{ data: cuts.map((c) => c.number), scaleType: 'point' }]}
        yAxis={[{ width: 40, min: -most, max: most }]}
        series={[
          {
            data: cuts.map((c) => c.bevel_right_deg ?? null),
            label: `right${bench.trial.good_side === 'right' ? ' (kept)' : ' (scrap)'}`,
            color: palette.text.primary,
            curve: 'linear',
            showMark: true,
          },
          {
            data: cuts.map((c) => c.bevel_left_deg ?? null),
            label: `left${bench.trial.good_side === 'left' ? ' (kept)' : ' (scrap)'}`,
            color: 'var(--other-side)',
            curve: 'linear',
            showMark: true,
          },
        ]}
      >
        {[limit, -limit].map((y) => (
          <ChartsReferenceLine
            key={y}
            y={y}
            lineStyle={{ strokeDasharray: '5 4', stroke: palette.text.secondary }}
          />
        ))}
      </LineChart>
    </figure>
  );
}
