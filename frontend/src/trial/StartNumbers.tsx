import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Schema, TorchSet } from '../kit/client';
import { SettingFigures } from '../kit/SettingFigures';
import { Notice } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import { shopQuery } from '../kit/queries';
import { showLength, showSpeed, type ShopUnits } from '../kit/units';
import styles from './trial.module.css';

type Start = Schema['StartAnswer'];
type Values = NonNullable<Start['values']>;

/** What no piece can be cut without, in the order in which it is asked for. */
const NEEDED = {
  speed_mm_min: 'speed',
  cut_height_mm: 'cut height',
  pierce_height_mm: 'pierce height',
  pierce_delay_s: 'pierce delay',
  kerf_mm: 'kerf',
} as const;

export type Typed = Partial<Record<keyof typeof NEEDED | 'arc_voltage_v', number | null>>;

interface Props {
  found: Start;
  values: Values | null;
  /** What was typed over the Book's numbers, here or before a side trip. */
  typed: Typed;
  /** Where the manual's rows are pasted, and back. */
  rowsPage: string;
  onType: (name: keyof Typed, value: number | null) => void;
  fitted: TorchSet;
}

/** The Book's numbers with what was typed over them; null while one is unknown: nothing that nobody gave reaches a program. */
export function withTyped(base: Values | null, typed: Typed): Values | null {
  const given = Object.entries(typed).filter(([, value]) => typeof value === 'number');
  const { arc_voltage_v = null, ...all }: Partial<Values> = { ...base, ...Object.fromEntries(given) };
  const { speed_mm_min, cut_height_mm, pierce_height_mm, pierce_delay_s, kerf_mm } = all;
  if (!speed_mm_min || !cut_height_mm || !pierce_height_mm || !kerf_mm) return null;
  if (pierce_delay_s === undefined) return null;
  return { speed_mm_min, cut_height_mm, arc_voltage_v, kerf_mm, pierce_height_mm, pierce_delay_s };
}

/** Which numbers are still to be given, once any is. */
function stillNeeded(base: Values | null, typed: Typed): string[] {
  if (base || !Object.values(typed).some((v) => typeof v === 'number')) return [];
  return Object.entries(NEEDED).flatMap(([name, word]) =>
    typeof typed[name as keyof typeof NEEDED] === 'number' ? [] : [word],
  );
}

const HOW: Record<string, string> = {
  recipe: 'The recipe locked here',
  row: 'A row of the Book',
  interpolated: 'Between two rows of the Book',
  extended: 'Beyond the rows of the Book',
  analogue: 'From mild steel: no rows for this metal',
  refused: 'No starting numbers',
};

/** Starting numbers with where they came from; typed over where the operator knows better. */
export function StartNumbers({ found, values, typed, rowsPage, onType, fitted }: Props) {
  const [typing, setTyping] = useState(Object.values(typed).some((v) => v !== null));
  const shop = useQuery(shopQuery);
  if (!shop.data) return null;
  const units = shop.data;
  const needed = stillNeeded(found.values ?? null, typed);
  return (
    <>
      <h2>{HOW[found.how] ?? found.how}</h2>
      <Sources sources={found.sources} />
      {values === null &&
        found.warnings.map((w) => (
          <Notice key={w} kind="refusal">
            {w}
          </Notice>
        ))}
      <OpeningLadder speeds={found.opening_ladder_mm_min} units={units} />
      {values && !typing && (
        <dl className={styles.numbers}>
          <SettingFigures setting={values} unread="unknown" units={units} />
        </dl>
      )}
      {values === null && (
        <p>
          <Button component={Link} to={rowsPage} variant="contained">
            Paste the manual’s rows for the {fitted.name}
          </Button>
        </p>
      )}
      {typing ? (
        <>
          <TypedNumbers base={found.values ?? null} typed={typed} onType={onType} />
          {needed.length > 0 && (
            <Notice kind="note">
              Still to be given: {needed.join(', ')}. Only what the manual or you gave goes into a
              program.
            </Notice>
          )}
        </>
      ) : (
        <button type="button" className={styles.quiet} onClick={() => setTyping(true)}>
          {values ? 'Type your own numbers' : `Type the numbers from the manual of the ${fitted.name}`}
        </button>
      )}
    </>
  );
}

function OpeningLadder({ speeds, units }: { speeds: readonly number[]; units: ShopUnits }) {
  if (speeds.length === 0) return null;
  return (
    <p className={styles.said}>
      The trial begins with a coarse ladder at this one height:{' '}
      <strong>{speeds.map((v) => showSpeed(v, units).text).join(', ')}</strong> {units.speed_unit}.
    </p>
  );
}

/** The rows that the numbers come from. */
function Sources({ sources }: { sources: Start['sources'] }) {
  if (sources.length === 0) return null;
  return (
    <ul className={styles.sources}>
      {sources.map((s) => (
        <li key={s.thickness_mm}>
          <strong>{s.plate}</strong> {s.source}
        </li>
      ))}
    </ul>
  );
}

/** Numbers typed over the Book's: what is left empty stays as it was. */
function TypedNumbers({
  base,
  typed,
  onType,
}: {
  base: Values | null;
  typed: Typed;
  onType: Props['onType'];
}) {
  const shop = useQuery(shopQuery);
  const [begun] = useState(typed);
  if (!shop.data) return null;
  const length = shop.data.length_unit;
  const units = shop.data;
  const text = (v: number | null | undefined, show: (n: number) => string) =>
    typeof v === 'number' ? show(v) : '';
  return (
    <div className={styles.typed}>
      <QuantityField
        label="Speed"
        quantity="speed"
        unit={shop.data.speed_unit}
        expected={base?.speed_mm_min}
        initial={text(begun.speed_mm_min, (v) => showSpeed(v, units).text)}
        onRead={(v) => onType('speed_mm_min', v)}
        means="cut_speed"
      />
      <QuantityField
        label="Cut height"
        quantity="length"
        unit={length}
        expected={base?.cut_height_mm}
        initial={text(begun.cut_height_mm, (v) => showLength(v, units).text)}
        onRead={(v) => onType('cut_height_mm', v)}
        means="cut_height"
      />
      <QuantityField
        label="Arc voltage"
        quantity="voltage"
        unit="V"
        expected={base?.arc_voltage_v ?? undefined}
        means="arc_voltage"
        initial={text(begun.arc_voltage_v, (v) => v.toFixed(1))}
        onRead={(v) => onType('arc_voltage_v', v)}
        help="leave empty if not known"
      />
      <QuantityField
        label="Pierce height"
        quantity="length"
        unit={length}
        expected={base?.pierce_height_mm}
        means="pierce_height"
        initial={text(begun.pierce_height_mm, (v) => showLength(v, units).text)}
        onRead={(v) => onType('pierce_height_mm', v)}
      />
      <QuantityField
        label="Pierce delay"
        quantity="time"
        unit="s"
        expected={base?.pierce_delay_s}
        means="pierce_delay"
        initial={text(begun.pierce_delay_s, (v) => v.toFixed(2))}
        onRead={(v) => onType('pierce_delay_s', v)}
      />
      <QuantityField
        label="Kerf"
        quantity="length"
        unit={length}
        expected={base?.kerf_mm}
        means="kerf"
        initial={text(begun.kerf_mm, (v) => showLength(v, units).text)}
        onRead={(v) => onType('kerf_mm', v)}
        help={base ? undefined : 'from the manual, or the width of a slot'}
      />
    </div>
  );
}
