import { useState } from 'react';
import { temper } from '../kit/temper';
import { showLength, showSpeed, type ShopUnits } from '../kit/units';
import styles from './bench.module.css';
import { kept, type Bench } from './model';

const WIDTH = 264;
const HEIGHT = 156;

/** Chance to pass over speed and height, with the cuts made and the one to make. */
export function ChanceMap({ bench, units }: { bench: Bench; units: ShopUnits }) {
  const [asTable, setAsTable] = useState(false);
  const map = bench.chance_map;
  const cellWidth = WIDTH / map.speeds_mm_min.length;
  const cellHeight = HEIGHT / map.heights_mm.length;
  const { place, low, high } = scales(bench);
  const next = bench.now.setting;
  const cuts = kept(bench);
  const best = Math.max(...map.chance.flat());
  return (
    <figure className={styles.map}>
      <figcaption>
        <h2>Chance to pass</h2>
        <button type="button" onClick={() => setAsTable(!asTable)}>
          {asTable ? 'Map' : 'Table'}
        </button>
      </figcaption>
      {asTable ? (
        <MapTable bench={bench} units={units} />
      ) : (
        <svg
          viewBox={`0 0 ${WIDTH} ${HEIGHT + 22}`}
          width="100%"
          role="img"
          aria-label={`Chance to pass over the trial's limits: ${Math.round(best * 100)} in 100 at best. Read it as a table for the figures.`}
        >
          {map.chance.map((row, j) =>
            row.map((p, i) => (
              <rect
                key={`${i} ${j}`}
                x={i * cellWidth}
                y={HEIGHT - (j + 1) * cellHeight}
                width={cellWidth + 0.5}
                height={cellHeight + 0.5}
                fill={temper(p)}
              />
            )),
          )}
          <g fontSize={13} fontWeight={600} fill="var(--chart-ink)">
            <text x={6} y={16}>
              {showLength(high.height, units).text} {units.length_unit} high
            </text>
            <text x={6} y={HEIGHT - 7}>
              {showLength(low.height, units).text}
            </text>
          </g>
          <g fontSize={13} fill="var(--ink)">
            <text x={0} y={HEIGHT + 17}>
              {showSpeed(low.speed, units).text}
            </text>
            <text x={WIDTH / 2} y={HEIGHT + 17} textAnchor="middle">
              speed, {units.speed_unit}
            </text>
            <text x={WIDTH} y={HEIGHT + 17} textAnchor="end">
              {showSpeed(high.speed, units).text}
            </text>
          </g>
          {cuts.map((c) => {
            const [x, y] = place(c.speed_mm_min, c.cut_height_mm);
            return (
              <g key={c.id}>
                <circle
                  cx={x}
                  cy={y}
                  r={9.5}
                  fill="var(--rail)"
                  stroke="var(--chalk)"
                  strokeWidth={1.6}
                />
                <text
                  x={x}
                  y={y + 4.5}
                  fontSize={12.5}
                  fontWeight={640}
                  textAnchor="middle"
                  fill="var(--chalk)"
                >
                  {c.number}
                </text>
              </g>
            );
          })}
          {bench.advice.recommended && !bench.trial.recipe_id && (
            <NextMark at={place(next.speed_mm_min, next.cut_height_mm)} />
          )}
        </svg>
      )}
    </figure>
  );
}

function NextMark({ at: [x, y] }: { at: readonly [number, number] }) {
  return (
    <g fill="none">
      <rect x={x - 13} y={y - 13} width={26} height={26} stroke="var(--rail)" strokeWidth={5} />
      <rect x={x - 13} y={y - 13} width={26} height={26} stroke="var(--chalk)" strokeWidth={2.4} />
    </g>
  );
}

function scales(bench: Bench) {
  const { speeds_mm_min: speeds, heights_mm: heights } = bench.chance_map;
  const low = { speed: speeds[0] ?? 1, height: heights[0] ?? 0 };
  const high = { speed: speeds.at(-1) ?? 2, height: heights.at(-1) ?? 1 };
  const place = (speed: number, height: number): readonly [number, number] => {
    const x = Math.log(speed / low.speed) / Math.log(high.speed / low.speed || Math.E);
    const y = (height - low.height) / (high.height - low.height || 1);
    const inside = (v: number) => Math.min(Math.max(v, 0), 1);
    return [12 + inside(x) * (WIDTH - 24), HEIGHT - 12 - inside(y) * (HEIGHT - 24)];
  };
  return { place, low, high };
}

function MapTable({ bench, units }: { bench: Bench; units: ShopUnits }) {
  const { speeds_mm_min: speeds, heights_mm: heights, chance } = bench.chance_map;
  const columns = speeds.map((_, i) => i).filter((i) => i % 4 === 0);
  const rows = heights.map((_, j) => heights.length - 1 - j).filter((j) => j % 2 === 0);
  return (
    <table className={styles.mapTable}>
      <caption>
        Chance in 100, by height ({units.length_unit}) and speed ({units.speed_unit})
      </caption>
      <thead>
        <tr>
          <th scope="col">height</th>
          {columns.map((i) => (
            <th key={i} scope="col">
              {showSpeed(speeds[i] ?? 0, units).text}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((j) => (
          <tr key={j}>
            <th scope="row">{showLength(heights[j] ?? 0, units).text}</th>
            {columns.map((i) => (
              <td key={i}>{Math.round((chance[j]?.[i] ?? 0) * 100)}</td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
