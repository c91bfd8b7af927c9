import { useState } from 'react';
import { showLength, showSpeed, type ShopUnits } from '../kit/units';
import styles from './bench.module.css';
import type { Bench, Setting } from './model';
import { SMALL, WindowMap } from './WindowMap';

interface Props {
  bench: Bench;
  units: ShopUnits;
  /** Asks what would happen at a setting. */
  onAsk: (at: Setting) => void;
}

/** Chance to pass over speed and height, with the cuts made and the one to make. Tapped, it answers "what if". */
export function ChanceMap({ bench, units, onAsk }: Props) {
  const [asTable, setAsTable] = useState(false);
  return (
    <figure className={styles.map}>
      <figcaption>
        <h2>Chance to pass</h2>
        <span>
          <button type="button" onClick={() => setAsTable(!asTable)}>
            {asTable ? 'Map' : 'Table'}
          </button>
          <button type="button" onClick={() => onAsk(bench.now.setting)}>
            What if?
          </button>
        </span>
      </figcaption>
      {asTable ? (
        <MapTable bench={bench} units={units} />
      ) : (
        <WindowMap bench={bench} units={units} frame={SMALL} onChoose={onAsk} />
      )}
    </figure>
  );
}

export function MapTable({ bench, units }: { bench: Bench; units: ShopUnits }) {
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
