import { showThickness, type ShopUnits } from '../kit/units';
import { LookCloser } from './LookCloser';
import type { Item, Log } from './log';
import styles from './log.module.css';

/** The stubs, squares, holes or teeth of a piece one under the other, each with what there is to see on it. */
export function ItemsSheet({
  log,
  units,
  change,
}: {
  log: Log;
  units: ShopUnits;
  change: (to: (now: Log) => Log) => void;
}) {
  const { items, looks_each: each } = log.sheet;
  return (
    <ol className={styles.items}>
      {items.map((i) => (
        <li key={i.number} aria-label={`${i.number}: ${i.name}`}>
          <h2>
            <span className="number">{i.number}</span> {named(i, units)}
          </h2>
          <LookCloser log={log} item={i.number} asked={each} units={units} change={change} />
        </li>
      ))}
    </ol>
  );
}

/** An item by what is its own: a stub by its delay, a hole by its size. */
function named(item: Item, units: ShopUnits): string {
  if (typeof item.pierce_delay_s === 'number') return `delay ${item.pierce_delay_s} s`;
  if (typeof item.nominal_mm === 'number') {
    const { text, unit } = showThickness(item.nominal_mm, units);
    return `${text} ${unit} hole`;
  }
  return item.name;
}
