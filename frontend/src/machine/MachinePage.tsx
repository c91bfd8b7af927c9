import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { useLocation } from 'react-router';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import { NumberField } from '../kit/NumberField';
import { NoTable } from '../kit/NoTable';
import { QuantityField } from '../kit/QuantityField';
import { shopQuery, useTable } from '../kit/queries';
import { showLength, showSpeed, showThickness, textAlong, unitOf, runOf } from '../kit/units';
import { Axes } from './Axes';
import { AirSupply } from './AirSupply';
import { Facts } from './Facts';
import styles from './machine.module.css';
import { Measuring } from './Measuring';
import { Programs } from './Programs';
import { settingsQuery, useChange, type Change, type Page } from './queries';

/** A table's own page: what all else reads about directions, heights, delays and processes. */
export function MachinePage() {
  const table = useTable();
  const page = useQuery({ ...settingsQuery(table?.id ?? 0), enabled: table !== null });
  if (table === null) return <NoTable />;
  if (page.isError && !page.data) return <Notice kind="refusal">{refusalText(page.error)}</Notice>;
  if (!page.data) return null;
  return <TablePage key={table.id} page={page.data} />;
}

function TablePage({ page }: { page: Page }) {
  const { change, error } = useChange(page);
  const { hash } = useLocation();
  useEffect(() => {
    if (hash) document.querySelector(hash)?.scrollIntoView();
  }, [hash]);
  return (
    <main className={styles.machine}>
      <h1>{page.name}</h1>
      {error !== null && <Notice kind="refusal">{refusalText(error)}</Notice>}
      <div className={styles.columns}>
        <Axes page={page} change={change} />
        <Heights page={page} change={change} />
        <TorchAndGas page={page} change={change} />
        <Motion page={page} change={change} />
      </div>
      <AirSupply page={page} change={change} />
      <Programs page={page} change={change} />
      <Measuring />
      <Facts tableId={page.table_id} />
    </main>
  );
}

const yesNo = (value: boolean | null | undefined): 'yes' | 'no' | null =>
  value === null || value === undefined ? null : value ? 'yes' : 'no';

const YES_NO = [
  { value: 'yes', label: 'yes' },
  { value: 'no', label: 'no' },
] as const;

function Heights({ page, change }: { page: Page; change: Change }) {
  const s = page.settings;
  const shop = useQuery(shopQuery);
  return (
    <section aria-labelledby="heights">
      <h2 id="heights">Finding and holding height</h2>
      <Choices
        label="Height control"
        value={s.height_control ?? null}
        choices={[
          { value: 'voltage', label: 'by arc voltage' },
          { value: 'touch_off', label: 'touch-off only' },
          { value: 'by_hand', label: 'raised by hand' },
        ]}
        onChoose={(height_control) => change({ height_control })}
      />
      {s.height_control === 'by_hand' && (
        <Notice kind="note">
          Height is then a guess, and mostly a high one. Log it with a gauge block; bevel and taper show
          the rest.
        </Notice>
      )}
      <Choices
        label="Touch-off"
        value={s.touch_off ?? null}
        choices={[
          { value: 'ohmic', label: 'ohmic' },
          { value: 'float_switch', label: 'float switch' },
          { value: 'none', label: 'none' },
        ]}
        onChoose={(touch_off) => change({ touch_off })}
      />
      {s.touch_off === 'float_switch' && shop.data && (
        <QuantityField
          whenLeft
          key={s.touch_off}
          label="Offset of the switch"
          quantity="length"
          unit={shop.data.length_unit}
          initial={s.touch_off_offset_mm ? showLength(s.touch_off_offset_mm, shop.data).text : ''}
          onRead={(v) => {
            if (v !== null && v.toFixed(3) !== s.touch_off_offset_mm?.toFixed(3))
              change({ touch_off_offset_mm: v });
          }}
          help="it shifts every height"
        />
      )}
      {s.height_control === 'voltage' && (
        <>
          <Choices
            label="Its delay counts from"
            value={s.delay_origin ?? null}
            choices={[
              { value: 'arc_strike', label: 'arc strike' },
              { value: 'start_of_motion', label: 'start of motion' },
            ]}
            onChoose={(delay_origin) => change({ delay_origin })}
          />
          <NumberField
            label="That delay"
            after="s"
            value={s.height_delay_s ?? null}
            whenLeft
            help="until then the torch runs blind"
            onType={(height_delay_s) => change({ height_delay_s })}
          />
          <Choices
            label="Switches itself on at program start?"
            value={yesNo(s.switches_itself_on)}
            choices={YES_NO}
            onChoose={(v) => change({ switches_itself_on: v === 'yes' })}
          />
        </>
      )}
    </section>
  );
}

function TorchAndGas({ page, change }: { page: Page; change: Change }) {
  const s = page.settings;
  return (
    <section aria-labelledby="torch-gas">
      <h2 id="torch-gas">Arc, gas and bed</h2>
      <Choices
        label="Tells when the arc is there?"
        value={yesNo(s.arc_signal)}
        choices={YES_NO}
        onChoose={(v) => change({ arc_signal: v === 'yes' })}
      />
      {s.arc_signal === false && (
        <Notice kind="note">
          Then the pierce delay must also cover pre-flow and ignition: rows for it start longer.
        </Notice>
      )}
      <Choices
        label="Starting"
        value={s.starting ?? null}
        choices={[
          { value: 'contact', label: 'contact' },
          { value: 'high_frequency', label: 'high frequency' },
        ]}
        onChoose={(starting) => change({ starting })}
      />
      <NumberField
        whenLeft
        label="Ramp-down at the end"
        value={s.ramp_down_s ?? null}
        after="s"
        help="0 for none; empty while not known"
        onType={(ramp_down_s) => change({ ramp_down_s })}
      />
      <Choices
        label="Bed"
        value={page.bed as 'water' | 'downdraft' | 'open'}
        choices={[
          { value: 'water', label: 'water' },
          { value: 'downdraft', label: 'downdraft' },
          { value: 'open', label: 'open' },
        ]}
        onChoose={(bed) => change({}, bed)}
      />
      <GasChoice gases={s.gases} change={change} />
    </section>
  );
}

const GASES = ['air', 'nitrogen', 'oxygen', 'argon-hydrogen', 'nitrogen-hydrogen', 'water mist'];

function GasChoice({ gases, change }: { gases: readonly string[]; change: Change }) {
  return (
    <fieldset className={styles.gases}>
      <legend>Gases plumbed here</legend>
      {GASES.map((g) => (
        <button
          key={g}
          type="button"
          aria-pressed={gases.includes(g)}
          onClick={() =>
            change({ gases: gases.includes(g) ? gases.filter((x) => x !== g) : [...gases, g] })
          }
        >
          {g}
        </button>
      ))}
    </fieldset>
  );
}

function Motion({ page, change }: { page: Page; change: Change }) {
  const s = page.settings;
  const shop = useQuery(shopQuery);
  if (!shop.data) return null;
  const units = shop.data;
  const length = units.length_unit === 'thou' ? 'in' : units.length_unit;
  const perLength = runOf(units);
  const shownLength = (mm: number | null | undefined) =>
    mm ? showThickness(mm, { ...units, length_unit: length }).text : '';
  return (
    <section aria-labelledby="motion">
      <h2 id="motion">What it reaches</h2>
      <QuantityField
        whenLeft
        label="Acceleration"
        quantity="acceleration"
        means="acceleration"
        unit={unitOf('acceleration', units)}
        initial={textAlong('acceleration', s.acceleration_mm_s2, units)}
        help="the controller’s page tells; it decides how large a test piece must be, and which set suits detail"
        onRead={(acceleration_mm_s2) => change({ acceleration_mm_s2 })}
      />
      <QuantityField
        whenLeft
        label="Fastest cutting speed"
        quantity="speed"
        unit={units.speed_unit}
        initial={s.fastest_mm_min ? showSpeed(s.fastest_mm_min, units).text : ''}
        onRead={(v) => {
          if (v !== null && Math.round(v) !== Math.round(s.fastest_mm_min ?? 0))
            change({ fastest_mm_min: v });
        }}
      />
      <QuantityField
        whenLeft
        label="Reach along X"
        quantity="length"
        unit={length}
        initial={shownLength(s.extent_x_mm)}
        onRead={(v) => {
          if (v !== null && v.toFixed(1) !== s.extent_x_mm?.toFixed(1)) change({ extent_x_mm: v });
        }}
      />
      <QuantityField
        whenLeft
        label="Reach along Y"
        quantity="length"
        unit={length}
        initial={shownLength(s.extent_y_mm)}
        onRead={(v) => {
          if (v !== null && v.toFixed(1) !== s.extent_y_mm?.toFixed(1)) change({ extent_y_mm: v });
        }}
      />
      <NumberField
        whenLeft
        label="What an hour of it costs"
        value={s.hour_cost ?? null}
        help="in the shop’s money, people included"
        onType={(hour_cost) => change({ hour_cost })}
      />
      <NumberField
        whenLeft
        label="What a test cut costs"
        value={s.test_cut_cost ?? null}
        help="steel and hands, in the same money"
        onType={(test_cut_cost) => change({ test_cut_cost })}
      />
      <NumberField
        whenLeft
        label={`What cleaning a ${perLength.word} of dross costs`}
        value={s.clean_up_cost_m == null ? null : Number((s.clean_up_cost_m * perLength.m).toFixed(3))}
        help="brush, scraper or grinder, with the hands"
        onType={(cost) => change({ clean_up_cost_m: cost === null ? null : cost / perLength.m })}
      />
    </section>
  );
}
