import Button from '@mui/material/Button';
import { queryOptions, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Schema } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { NumberField } from '../kit/NumberField';
import { QuantityField } from '../kit/QuantityField';
import { shopQuery } from '../kit/queries';
import { TextField } from '../kit/TextField';
import { useSay } from '../kit/undo';
import { showLength, type ShopUnits, lengthPer } from '../kit/units';
import { GradingCheck } from './GradingCheck';
import styles from './measuring.module.css';

type Instrument = Schema['InstrumentAnswer'];
type Method = Instrument['method'];

const instrumentsQuery = (thicknessMm: number, targetDeg: number) =>
  queryOptions({
    queryKey: ['instruments', thicknessMm, targetDeg],
    queryFn: () =>
      answered(
        api.GET('/api/instruments', {
          params: { query: { thickness_mm: thicknessMm, target_deg: targetDeg } },
        }),
      ),
  });

/** What edges are measured with here, how well, and whether that settles a target: asked before measuring. */
export function Measuring() {
  const shop = useQuery(shopQuery);
  const [thickness, setThickness] = useState(8);
  const [target, setTarget] = useState(2);
  const found = useQuery(instrumentsQuery(thickness, target));
  if (!shop.data) return null;
  const units = shop.data;
  return (
    <section className={styles.measuring} aria-labelledby="measuring">
      <header>
        <h2 id="measuring">Measuring</h2>
        <p className={styles.asked}>Can it settle the target?</p>
        <QuantityField
          label="Plate"
          quantity="length"
          unit={units.length_unit}
          initial={showLength(8, units).text}
          onRead={(v) => v !== null && setThickness(v)}
        />
        <NumberField
          label="Square within"
          after="°"
          value={target}
          onType={(v) => v !== null && v >= 0.1 && v < 45 && setTarget(v)}
        />
      </header>
      <ul>
        {(found.data ?? []).map((i) => (
          <OneInstrument key={i.name} instrument={i} units={units} />
        ))}
      </ul>
      {found.isError && <Notice kind="refusal">{refusalText(found.error)}</Notice>}
      <NewInstrument known={found.data ?? []} />
      <GradingCheck />
    </section>
  );
}

function useChanged() {
  const queries = useQueryClient();
  return () =>
    Promise.all([
      queries.invalidateQueries({ queryKey: ['instruments'] }),
      queries.invalidateQueries({ queryKey: ['trials'] }),
    ]);
}

function OneInstrument({ instrument: i, units }: { instrument: Instrument; units: ShopUnits }) {
  const [checking, setChecking] = useState(false);
  const changed = useChanged();
  const say = useSay();
  const strike = useMutation({
    mutationFn: (out: boolean) =>
      answered(
        api.PUT('/api/instruments/{instrument_id}/struck', {
          params: { path: { instrument_id: i.id ?? 0 }, query: { out } },
        }),
      ),
    onSuccess: async (_, out) => {
      await changed();
      if (out) say({ text: `“${i.name}” is off the list.`, undo: () => strike.mutate(false) });
    },
  });
  const inUnit = (value: number) =>
    i.unit === 'mm' ? fine(value, units) : `${round(value)} ${UNIT[i.unit]}`;
  return (
    <li>
      <div>
        <strong>{i.name}</strong>
        <small>
          {i.reads}; reads to {inUnit(i.resolution)}
        </small>
      </div>
      <p className={styles.number}>
        <strong className="number">±{(2 * i.u_deg).toFixed(1)}°</strong>
        <small>
          a hand repeats within {inUnit(2 * i.repeatability)},{' '}
          {i.checked ? 'checked' : i.id === null ? 'typical, not checked' : 'as written down'}
        </small>
      </p>
      <p>{i.says}</p>
      <div className={styles.acts}>
        {i.id !== null && (
          <>
            <Button variant="outlined" onClick={() => setChecking(!checking)}>
              {checking ? 'Later' : 'Check my hand'}
            </Button>
            <Button variant="text" onClick={() => strike.mutate(true)}>
              Off the list
            </Button>
          </>
        )}
      </div>
      {checking && <FiveRepeats instrument={i} units={units} onDone={() => setChecking(false)} />}
    </li>
  );
}

const UNIT = { deg: '°', mm: 'mm', px: 'points' } as const;

/** A fine length: an instrument's step is smaller than the shop's own. */
function fine(mm: number, units: ShopUnits): string {
  return `${Number((mm / lengthPer(units)).toPrecision(1))} ${units.length_unit}`;
}

const round = (value: number): string => String(Math.round(value * 100) / 100);

/** One edge read five times, the instrument taken off each time: that is this hand's spread from then on. */
function FiveRepeats({
  instrument,
  units,
  onDone,
}: {
  instrument: Instrument;
  units: ShopUnits;
  onDone: () => void;
}) {
  const [read, setRead] = useState<(number | null)[]>([null, null, null, null, null]);
  const changed = useChanged();
  const say = useSay();
  const set = (at: number) => (value: number | null) =>
    setRead((now) => now.map((v, i) => (i === at ? value : v)));
  const sent = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/instruments/{instrument_id}/checks', {
          params: { path: { instrument_id: instrument.id ?? 0 } },
          body: { readings: read.filter((v) => v !== null) },
        }),
      ),
    onSuccess: async (check) => {
      await changed();
      const undo = () =>
        void answered(
          api.PUT('/api/instrument-checks/{check_id}/struck', {
            params: { path: { check_id: check.id } },
          }),
        ).then(changed);
      say({ text: 'Kept: readings by this hand carry that spread from now on.', undo });
      onDone();
    },
  });
  return (
    <div className={styles.repeats}>
      <p>The same edge five times. Take it off each time.</p>
      {read.map((_, i) =>
        instrument.unit === 'mm' ? (
          <QuantityField
            key={i}
            label={`Reading ${i + 1}`}
            quantity="length"
            unit={units.length_unit}
            onRead={set(i)}
          />
        ) : (
          <NumberField
            key={i}
            label={`Reading ${i + 1}`}
            after={UNIT[instrument.unit]}
            value={read[i] ?? null}
            onType={set(i)}
          />
        ),
      )}
      <Button
        variant="contained"
        disabled={read.some((v) => v === null) || sent.isPending}
        onClick={() => sent.mutate()}
      >
        Keep the check
      </Button>
      {sent.isError && <Notice kind="refusal">{refusalText(sent.error)}</Notice>}
    </div>
  );
}

/** An instrument of the shop's own; what is left out is the usual of its kind. */
function NewInstrument({ known }: { known: readonly Instrument[] }) {
  const [name, setName] = useState('');
  const [method, setMethod] = useState<Method>('angle_gauge');
  const changed = useChanged();
  const add = useMutation({
    mutationFn: () => answered(api.POST('/api/instruments', { body: { name: name.trim(), method } })),
    onSuccess: async () => {
      setName('');
      await changed();
    },
  });
  return (
    <form
      className={styles.added}
      onSubmit={(e) => {
        e.preventDefault();
        if (name.trim()) add.mutate();
      }}
    >
      <TextField
        label="One of our own"
        value={name}
        most={60}
        onType={setName}
        placeholder="gauge in the red drawer"
      />
      <label>
        Reads as
        <select value={method} onChange={(e) => setMethod(e.target.value as Method)}>
          {[...new Map(known.map((i) => [i.method, i.label]))].map(([value, label]) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
      </label>
      <Button type="submit" variant="outlined" disabled={!name.trim() || add.isPending}>
        Write it down
      </Button>
      {add.isError && <Notice kind="refusal">{refusalText(add.error)}</Notice>}
    </form>
  );
}
