import type { Schema } from '../kit/client';
import { showSpeed, type ShopUnits, gasAlong, runOf } from '../kit/units';
import { DROSS_EFFORT } from '../kit/words.gen';
import styles from './choose.module.css';

type Option = Schema['ChooseOption'];

/** Each thing that processes are compared by: as the server calls it where one can be best at it. */
interface Row {
  name: string;
  best?: string;
  of: (o: Option, units: ShopUnits) => string | null;
}

const grade = (g: number | null): string | null => (g === null ? null : (DROSS_EFFORT[g] ?? null));
const ROWS: readonly Row[] = [
  {
    name: 'Bevel',
    best: 'bevel',
    of: (o) => (o.bevel_deg === null ? null : `${o.bevel_deg.toFixed(1)}°`),
  },
  { name: 'Dross underneath', best: 'dross underneath', of: (o) => grade(o.bottom_dross_grade) },
  { name: 'Dross on top', best: 'dross on top', of: (o) => grade(o.top_dross_grade) },
  { name: 'Top rounding', best: 'top rounding', of: (o) => o.rounding },
  { name: 'Colour', of: (o) => o.colour },
  { name: 'Lag', best: 'lag', of: (o) => (o.lag_deg === null ? null : `${o.lag_deg.toFixed(0)}°`) },
  {
    name: 'Speed',
    best: 'speed',
    of: (o, units) =>
      o.speed_mm_min === null ? null : `${showSpeed(o.speed_mm_min, units).text} ${units.speed_unit}`,
  },
  {
    name: 'Gas',
    best: 'gas',
    of: (o, units) =>
      o.gas_l_per_m === null ? null : gasAlong(o.gas_l_per_m, units, runOf(units).unit),
  },
  {
    name: 'Cost',
    best: 'cost',
    of: (o, units) =>
      o.cost_per_m === null
        ? null
        : `${(o.cost_per_m * runOf(units).m).toFixed(2)} a ${runOf(units).unit}`,
  },
  { name: 'From', of: (o) => o.look_from },
];

/** Processes as columns, what nothing else is better at marked: none is best at everything. */
export function SideBySide({ options, units }: { options: readonly Option[]; units: ShopUnits }) {
  const shown = options.filter((o) => o.usable);
  return (
    <div className={styles.beside} tabIndex={0}>
      <table>
        <caption>◆ nothing here is better at it. What a book claims counts as it is claimed.</caption>
        <thead>
          <tr>
            <td />
            {shown.map((o) => (
              <th key={`${o.torch_set} ${o.gas} ${o.shield_gas}`} scope="col">
                {o.torch_set}
                <small>
                  {o.amperage_a} A, {o.shield_gas ? `${o.gas} with ${o.shield_gas}` : o.gas}
                </small>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {ROWS.map((r) => (
            <tr key={r.name}>
              <th scope="row">{r.name}</th>
              {shown.map((o) => {
                const best = r.best !== undefined && o.best_at.includes(r.best);
                return (
                  <td key={`${o.torch_set} ${o.gas} ${o.shield_gas}`} data-best={best}>
                    {best && <span aria-label="best here">◆ </span>}
                    {r.of(o, units) ?? 'not said'}
                  </td>
                );
              })}
            </tr>
          ))}
          <tr>
            <th scope="row">Is it a choice?</th>
            {shown.map((o) => (
              <td key={`${o.torch_set} ${o.gas} ${o.shield_gas}`}>
                {o.beaten_by ? `beaten in all it says by ${o.beaten_by}` : 'nothing beats it'}
              </td>
            ))}
          </tr>
        </tbody>
      </table>
    </div>
  );
}
