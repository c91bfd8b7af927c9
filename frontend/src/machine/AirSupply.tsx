import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Notice, refusalText } from '../kit/Notice';
import { NumberField } from '../kit/NumberField';
import { QuantityField } from '../kit/QuantityField';
import { Cylinders } from './Cylinders';
import styles from './machine.module.css';
import { airQuery, type Air, type AirFinding, type Change, type Page } from './queries';

const SUBJECT: Record<string, string> = {
  delivery: 'Delivery',
  ride_through: 'How long a cut',
  tank: 'Tank',
  flowing_pressure: 'Flowing pressure',
  hose: 'Hose',
  dryness: 'Dryness',
};

const VERDICT: Record<AirFinding['verdict'], string> = {
  enough: '■ enough',
  short: '▲ short',
  unknown: '□ not known',
};

type Name = keyof Air;

/** Need against delivery, tank, hose and dryness: the answer in a sentence, the numbers behind it. */
export function AirSupply({ page, change }: { page: Page; change: Change }) {
  const air = page.settings.air;
  const found = useQuery(airQuery(air));
  const [typing, setTyping] = useState(air.need_l_min === null || air.need_l_min === undefined);
  const set = (name: Name) => (value: number | null) => {
    if (value !== (air[name] ?? null)) change({ air: { [name]: value } });
  };
  const flow = { quantity: 'flow', unit: 'l/min' } as const;
  const pressure = { quantity: 'pressure', unit: 'kPa' } as const;
  const text = (name: Name) => String(air[name] ?? '');
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
            <li key={f.subject} data-verdict={f.verdict}>
              <strong>{SUBJECT[f.subject] ?? f.subject}</strong>
              <b>{VERDICT[f.verdict]}</b>
              <span>{f.sentence}</span>
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
          <QuantityField
            whenLeft
            label="The source needs"
            {...flow}
            initial={text('need_l_min')}
            onRead={set('need_l_min')}
            help="or 7 cfm"
          />
          <QuantityField
            whenLeft
            label="The compressor delivers"
            {...flow}
            initial={text('delivery_l_min')}
            onRead={set('delivery_l_min')}
            help="free air at that pressure, not what it sucks in"
          />
          <NumberField
            whenLeft
            label="Tank"
            after="l"
            value={air.tank_l ?? null}
            onType={set('tank_l')}
          />
          <QuantityField
            whenLeft
            label="Compressor stops at"
            {...pressure}
            initial={text('cut_out_kpa')}
            onRead={set('cut_out_kpa')}
            help="or 8 bar, 116 psi"
          />
          <QuantityField
            whenLeft
            label="and starts at"
            {...pressure}
            initial={text('cut_in_kpa')}
            onRead={set('cut_in_kpa')}
          />
          <QuantityField
            whenLeft
            label="Least the source takes"
            {...pressure}
            initial={text('least_kpa')}
            onRead={set('least_kpa')}
          />
          <QuantityField
            whenLeft
            label="At its inlet, flowing"
            {...pressure}
            initial={text('flowing_kpa')}
            onRead={set('flowing_kpa')}
            help="read while it purges"
          />
          <NumberField
            whenLeft
            label="Hose length"
            after="m"
            value={air.hose_length_m ?? null}
            onType={set('hose_length_m')}
          />
          <NumberField
            whenLeft
            label="Hose bore"
            after="mm"
            value={air.hose_bore_mm ?? null}
            onType={set('hose_bore_mm')}
          />
          <NumberField
            whenLeft
            label="Dew point, under pressure"
            after="°C"
            value={air.dew_point_c ?? null}
            onType={set('dew_point_c')}
          />
          <NumberField
            whenLeft
            label="Coldest place on the way"
            after="°C"
            value={air.coldest_c ?? null}
            onType={set('coldest_c')}
          />
        </div>
      )}
      <Cylinders />
    </section>
  );
}
