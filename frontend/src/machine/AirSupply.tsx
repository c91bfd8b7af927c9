import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Notice, refusalText } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import { shopQuery } from '../kit/queries';
import { inInches, showLength, textAlong, unitOf, type Along, type ShopUnits } from '../kit/units';
import { Cylinders } from './Cylinders';
import styles from './machine.module.css';
import { airQuery, type Air, type AirFinding, type Change, type Page } from './queries';

const MARK: Record<AirFinding['verdict'], string> = { enough: '■', short: '▲', unknown: '□' };

type Name = keyof Air;

interface Field {
  name: Name;
  label: string;
  quantity: Exclude<Along, 'gas'> | 'length';
  help?: [metric: string, inch: string];
}

const FIELDS: Field[] = [
  { name: 'need_l_min', label: 'The source needs', quantity: 'flow' },
  {
    name: 'delivery_l_min',
    label: 'The compressor delivers',
    quantity: 'flow',
    help: ['free air at that pressure, not what it sucks in', 'free air at that pressure'],
  },
  { name: 'tank_l', label: 'Tank', quantity: 'volume' },
  {
    name: 'cut_out_kpa',
    label: 'Compressor stops at',
    quantity: 'pressure',
    help: ['or 8 bar', ''],
  },
  { name: 'cut_in_kpa', label: 'and starts at', quantity: 'pressure' },
  { name: 'least_kpa', label: 'Least the source takes', quantity: 'pressure' },
  {
    name: 'flowing_kpa',
    label: 'At its inlet, flowing',
    quantity: 'pressure',
    help: ['read while it purges', 'read while it purges'],
  },
  { name: 'hose_length_m', label: 'Hose length', quantity: 'run' },
  { name: 'hose_bore_mm', label: 'Hose bore', quantity: 'length' },
  { name: 'dew_point_c', label: 'Dew point, under pressure', quantity: 'temperature' },
  { name: 'coldest_c', label: 'Coldest place on the way', quantity: 'temperature' },
];

/** Need against delivery, tank, hose and dryness: the answer in a sentence, the numbers behind it. */
export function AirSupply({ page, change }: { page: Page; change: Change }) {
  const air = page.settings.air;
  const found = useQuery(airQuery(air));
  const [typing, setTyping] = useState(air.need_l_min === null || air.need_l_min === undefined);
  const shop = useQuery(shopQuery);
  if (!shop.data) return null;
  const units = shop.data;
  const set = (name: Name) => (value: number | null) => {
    if (value !== (air[name] ?? null)) change({ air: { [name]: value } });
  };
  return (
    <section className={styles.air} aria-labelledby="air">
      <header>
        <h2 id="air">Air</h2>
        <button type="button" onClick={() => setTyping(!typing)}>
          {typing ? 'Only the answers' : 'Change its numbers'}
        </button>
      </header>
      {found.isError && <Notice kind="refusal">{refusalText(found.error)}</Notice>}
      {found.data ? (
        <ul className={styles.findings}>
          {found.data.map((f) => (
            <li key={f.code} data-verdict={f.verdict}>
              <strong>{f.title}</strong>
              <b>
                {MARK[f.verdict]} {f.said}
              </b>
              <span>{f.why}</span>
            </li>
          ))}
        </ul>
      ) : (
        <p className={styles.soft}>
          Give what the source needs while the arc is on: its manual names it, as free air a minute. The
          rest is worked out from there.
        </p>
      )}
      {typing && (
        <div className={styles.numbers}>
          {FIELDS.map((f) => (
            <QuantityField
              key={f.name}
              whenLeft
              label={f.label}
              quantity={f.quantity}
              unit={f.quantity === 'length' ? units.length_unit : unitOf(f.quantity, units)}
              initial={shownText(f, air[f.name], units)}
              onRead={set(f.name)}
              help={f.help?.[inInches(units) ? 1 : 0]}
            />
          ))}
        </div>
      )}
      <Cylinders />
    </section>
  );
}

function shownText(f: Field, kept: number | null | undefined, units: ShopUnits): string {
  if (f.quantity !== 'length') return textAlong(f.quantity, kept, units);
  return kept ? showLength(kept, units).text : '';
}
