import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Notice, refusalText } from '../kit/Notice';
import { NumberField } from '../kit/NumberField';
import { QuantityField } from '../kit/QuantityField';
import { Cylinders } from './Cylinders';
import styles from './machine.module.css';
import { airQuery, type Air, type AirFinding, type Change, type Page } from './queries';

const MARK: Record<AirFinding['verdict'], string> = { enough: '■', short: '▲', unknown: '□' };

type Name = keyof Air;

interface Field {
  name: Name;
  label: string;
  unit: string;
  quantity?: 'flow' | 'pressure';
  help?: string;
}

const FIELDS: Field[] = [
  { name: 'need_l_min', label: 'The source needs', unit: 'l/min', quantity: 'flow', help: 'or 7 cfm' },
  {
    name: 'delivery_l_min',
    label: 'The compressor delivers',
    unit: 'l/min',
    quantity: 'flow',
    help: 'free air at that pressure, not what it sucks in',
  },
  { name: 'tank_l', label: 'Tank', unit: 'l' },
  {
    name: 'cut_out_kpa',
    label: 'Compressor stops at',
    unit: 'kPa',
    quantity: 'pressure',
    help: 'or 8 bar, 116 psi',
  },
  { name: 'cut_in_kpa', label: 'and starts at', unit: 'kPa', quantity: 'pressure' },
  { name: 'least_kpa', label: 'Least the source takes', unit: 'kPa', quantity: 'pressure' },
  {
    name: 'flowing_kpa',
    label: 'At its inlet, flowing',
    unit: 'kPa',
    quantity: 'pressure',
    help: 'read while it purges',
  },
  { name: 'hose_length_m', label: 'Hose length', unit: 'm' },
  { name: 'hose_bore_mm', label: 'Hose bore', unit: 'mm' },
  { name: 'dew_point_c', label: 'Dew point, under pressure', unit: '°C' },
  { name: 'coldest_c', label: 'Coldest place on the way', unit: '°C' },
];

/** Need against delivery, tank, hose and dryness: the answer in a sentence, the numbers behind it. */
export function AirSupply({ page, change }: { page: Page; change: Change }) {
  const air = page.settings.air;
  const found = useQuery(airQuery(air));
  const [typing, setTyping] = useState(air.need_l_min === null || air.need_l_min === undefined);
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
          Give what the source needs while the arc is on: its manual names it, in litres of free air a
          minute. The rest is worked out from there.
        </p>
      )}
      {typing && (
        <div className={styles.numbers}>
          {FIELDS.map((f) =>
            f.quantity ? (
              <QuantityField
                key={f.name}
                whenLeft
                label={f.label}
                quantity={f.quantity}
                unit={f.unit}
                initial={String(air[f.name] ?? '')}
                onRead={set(f.name)}
                help={f.help}
              />
            ) : (
              <NumberField
                key={f.name}
                whenLeft
                label={f.label}
                after={f.unit}
                value={air[f.name] ?? null}
                onType={set(f.name)}
              />
            ),
          )}
        </div>
      )}
      <Cylinders />
    </section>
  );
}
