import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Schema } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { NumberField } from '../kit/NumberField';
import { QuantityField } from '../kit/QuantityField';
import { shopQuery } from '../kit/queries';
import { unitOf, bottlePressure } from '../kit/units';
import { SaveButton } from '../kit/SaveButton';
import styles from './machine.module.css';

type Asked = Schema['CylinderRequest'];

/** Whether the cylinders last a job. */
export function Cylinders() {
  const shop = useQuery(shopQuery);
  const [asked, setAsked] = useState<Partial<Record<keyof Asked, number | null>>>({ cylinders: 1 });
  const type = (name: keyof Asked) => (value: number | null) =>
    setAsked((before) => ({ ...before, [name]: value }));
  const found = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/cylinders', {
          body: {
            flow_l_min: asked.flow_l_min ?? 0,
            arc_minutes: asked.arc_minutes ?? 0,
            starts: Math.round(asked.starts ?? 0),
            water_l: asked.water_l ?? 0,
            pressure_kpa: asked.pressure_kpa ?? 0,
            least_kpa: asked.least_kpa ?? 0,
            cylinders: Math.round(asked.cylinders ?? 1),
          },
        }),
      ),
  });
  if (!shop.data) return null;
  const units = shop.data;
  const missing = !asked.flow_l_min || !asked.arc_minutes || !asked.water_l || !asked.pressure_kpa;
  return (
    <details className={styles.cylinders}>
      <summary>Will the cylinders last a job?</summary>
      <div className={styles.numbers}>
        <QuantityField
          label="Flow"
          quantity="flow"
          unit={unitOf('flow', units)}
          onRead={type('flow_l_min')}
          help="plasma and shield gas of that cylinder"
        />
        <NumberField
          label="Arc time"
          after="min"
          value={asked.arc_minutes ?? null}
          onType={type('arc_minutes')}
        />
        <NumberField
          label="Starts"
          value={asked.starts ?? null}
          onType={type('starts')}
          help="each costs pre- and post-flow"
        />
        <QuantityField
          label="Size, as water"
          quantity="volume"
          unit={unitOf('volume', units)}
          onRead={type('water_l')}
          help="stamped on its shoulder"
        />
        <QuantityField
          label="Pressure in it"
          quantity="pressure"
          unit={bottlePressure(units)}
          onRead={type('pressure_kpa')}
        />
        <QuantityField
          label="Change it at"
          quantity="pressure"
          unit={bottlePressure(units)}
          onRead={type('least_kpa')}
        />
        <NumberField label="How many" value={asked.cylinders ?? null} onType={type('cylinders')} />
      </div>
      <SaveButton
        variant="outlined"
        disabled={missing || found.isPending}
        onClick={() => found.mutate()}
      >
        Work it out
      </SaveButton>
      {found.isError && <Notice kind="refusal">{refusalText(found.error)}</Notice>}
      {found.data && (
        <p className={styles.answer}>
          {found.data.enough ? '■' : '▲'} {found.data.sentence}
        </p>
      )}
    </details>
  );
}
