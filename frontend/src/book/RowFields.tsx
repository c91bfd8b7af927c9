import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { TorchSet } from '../kit/client';
import { Choices } from '../kit/Choices';
import { metalsQuery } from '../kit/queries';
import { QuantityField } from '../kit/QuantityField';
import { TextField } from '../kit/TextField';
import { type ShopUnits, unitOf } from '../kit/units';
import styles from './book.module.css';
import type { Name, Words } from './row';

export interface FormProps {
  words: Words;
  units: ShopUnits;
  onSay: (some: Partial<Words>) => void;
  field: (name: Name) => { onRead: (value: number | null) => void; initial: string };
}

interface OfWhatProps extends FormProps {
  sets: readonly TorchSet[] | undefined;
  setId: number | null;
}

/** Metal and set, where the row is not of a page of the Book that is open. */
export function OfWhat({ words, sets, setId, onSay }: OfWhatProps) {
  const metals = useQuery(metalsQuery);
  if (!metals.data || !sets) return null;
  return (
    <>
      <Choices
        label="Metal"
        value={words.metal}
        choices={metals.data.map((m) => ({ value: m.name, label: m.label }))}
        onChoose={(metal) => onSay({ metal })}
      />
      <Choices
        label="Torch set"
        value={setId}
        choices={sets.map((s) => ({ value: s.id, label: s.name }))}
        onChoose={(id) => onSay({ setId: id })}
      />
    </>
  );
}

/** What every row says. */
export function MainNumbers({ words, units, field }: FormProps) {
  const length = { quantity: 'length', unit: units.length_unit } as const;
  return (
    <div className={styles.rowNumbers}>
      <QuantityField
        label="Thickness"
        means="thickness"
        {...length}
        metal={words.metal}
        {...field('thickness_mm')}
      />
      <QuantityField
        label="Speed"
        quantity="speed"
        means="cut_speed"
        unit={units.speed_unit}
        {...field('speed_mm_min')}
      />
      <QuantityField
        label="Arc voltage"
        quantity="voltage"
        means="arc_voltage"
        unit="V"
        help="empty where it gives none"
        {...field('arc_voltage_v')}
      />
      <QuantityField label="Cut height" means="cut_height" {...length} {...field('cut_height_mm')} />
      <QuantityField
        label="Pierce height"
        means="pierce_height"
        {...length}
        {...field('pierce_height_mm')}
      />
      <QuantityField
        label="Pierce delay"
        quantity="time"
        means="pierce_delay"
        unit="s"
        help="0 is a value"
        {...field('pierce_delay_s')}
      />
      <QuantityField
        label="Kerf"
        means="kerf"
        help="empty where it gives none"
        {...length}
        {...field('kerf_mm')}
      />
      <QuantityField
        label="Amperage"
        quantity="current"
        unit="A"
        help="empty: what the set is rated for"
        {...field('amperage_a')}
      />
    </div>
  );
}

/** What some rows say besides. */
export function MoreNumbers({ words, units, onSay, field }: FormProps) {
  const [more, setMore] = useState(false);
  const length = { quantity: 'length', unit: units.length_unit } as const;
  return (
    <>
      <Button variant="text" aria-expanded={more} onClick={() => setMore(!more)}>
        {more ? 'Less' : 'Gases, surface, bed, bounds'}
      </Button>
      {more && (
        <div className={styles.rowNumbers}>
          <TextField
            label="Plasma gas"
            value={words.gas}
            most={60}
            placeholder="the set’s own"
            onType={(gas) => onSay({ gas })}
          />
          <TextField
            label="Shield gas"
            value={words.shield}
            most={60}
            onType={(shield) => onSay({ shield })}
          />
          <QuantityField
            label="Gas pressure"
            quantity="pressure"
            unit={unitOf('pressure', units)}
            {...field('gas_pressure_kpa')}
          />
          <QuantityField
            label="Gas flow"
            quantity="flow"
            unit={unitOf('flow', units)}
            {...field('gas_flow_l_min')}
          />
          <QuantityField
            label="Shield pressure"
            quantity="pressure"
            unit={unitOf('pressure', units)}
            {...field('shield_pressure_kpa')}
          />
          <QuantityField
            label="Shield flow"
            quantity="flow"
            unit={unitOf('flow', units)}
            {...field('shield_flow_l_min')}
          />
          <TextField
            label="Surface"
            value={words.surface}
            most={60}
            placeholder="scale, pickled, oiled, painted"
            onType={(surface) => onSay({ surface })}
          />
          <Choices
            label="Bed it holds for"
            value={words.bed}
            choices={[
              { value: 'water', label: 'water' },
              { value: 'downdraft', label: 'downdraft' },
              { value: 'open', label: 'open' },
            ]}
            onChoose={(bed) => onSay({ bed })}
          />
          <QuantityField
            label="Water above the underside"
            {...length}
            help="minus: below the plate"
            {...field('water_level_mm')}
          />
          <QuantityField label="Sensible from" {...length} {...field('least_thickness_mm')} />
          <QuantityField label="Sensible up to" {...length} {...field('most_thickness_mm')} />
        </div>
      )}
    </>
  );
}
