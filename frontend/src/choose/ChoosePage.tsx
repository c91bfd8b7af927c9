import { at } from '../kit/place';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import { metalsQuery, shopQuery, useTable } from '../kit/queries';
import { showLength, showThickness, type ShopUnits } from '../kit/units';
import { chooseQuery, type Job } from './queries';
import styles from './choose.module.css';
import { OptionRow } from './OptionRow';
import { SideBySide } from './SideBySide';

/** Every set side by side for a job: what it asks for, what the machine gets of it, what it leaves. */
export function ChoosePage() {
  const [asked] = useSearchParams();
  const metals = useQuery(metalsQuery);
  const shop = useQuery(shopQuery);
  const table = useTable();
  const [metal, setMetal] = useState(asked.get('metal') ?? 'mild_steel');
  const [thickness, setThickness] = useState<number | null>(Number(asked.get('thickness')) || 6);
  const [straight, setStraight] = useState<number | null>(100);
  const [circle, setCircle] = useState<number | null>(20);
  if (!metals.data || !shop.data) return null;
  const units = shop.data;
  const length = units.length_unit === 'thou' ? 'in' : units.length_unit;
  const text = (mm: number) => showThickness(mm, { ...units, length_unit: length }).text;
  return (
    <main className={styles.choose}>
      <header className={styles.job}>
        <h1>Which set?</h1>
        <Choices
          label="Metal"
          value={metal}
          choices={metals.data.map((m) => ({ value: m.name, label: m.label }))}
          onChoose={setMetal}
        />
        <div className={styles.sizes}>
          <QuantityField
            label="Thickness"
            quantity="length"
            unit={length}
            metal={metal}
            means="thickness"
            initial={text(thickness ?? 6)}
            onRead={setThickness}
          />
          <QuantityField
            label="Straights of the part"
            quantity="length"
            unit={length}
            initial={text(100)}
            onRead={setStraight}
          />
          <QuantityField
            label="Its circles, diameter"
            quantity="length"
            unit={length}
            initial={text(20)}
            onRead={setCircle}
          />
        </div>
      </header>
      {thickness !== null && straight !== null && circle !== null ? (
        <Options
          job={{
            metal,
            thickness_mm: thickness,
            table_id: table?.id ?? null,
            straight_mm: straight,
            circle_mm: circle,
          }}
          tableName={table?.name ?? ''}
          units={units}
        />
      ) : (
        <p className={styles.soft}>Give the thickness and the part’s straights and circles.</p>
      )}
    </main>
  );
}

/** The same processes as a file. */
function listAddress(form: 'csv' | 'json', job: Job): string {
  const { table_id: table, ...asked } = job;
  const words = Object.entries({ ...asked, ...(table === null ? {} : { table_id: table }) });
  return at(
    `/api/choose.${form}?${new URLSearchParams(words.map(([k, v]) => [k, String(v)])).toString()}`,
  );
}

function Options({ job, tableName, units }: { job: Job; tableName: string; units: ShopUnits }) {
  const found = useQuery(chooseQuery(job));
  const [beside, setBeside] = useState(false);
  if (found.isError && !found.data) return <Notice kind="refusal">{refusalText(found.error)}</Notice>;
  if (!found.data) return null;
  const fastest = Math.max(...found.data.options.map((o) => o.speed_mm_min ?? 0));
  return (
    <>
      {found.data.other_process && (
        <Notice kind="note" title="Is plasma the right process?">
          {found.data.other_process}
        </Notice>
      )}
      {!found.data.machine_known && (
        <Notice kind="note">
          What the {tableName} holds at speed cannot be told: its acceleration is not written down on the
          Machine page.
        </Notice>
      )}
      {found.data.options.some((o) => o.example) && (
        <Notice kind="caution">Example numbers: use your torch’s manual.</Notice>
      )}
      <div className={styles.ways} role="group" aria-label="How to see them">
        <button type="button" aria-pressed={!beside} onClick={() => setBeside(false)}>
          One by one
        </button>
        <button type="button" aria-pressed={beside} onClick={() => setBeside(true)}>
          Side by side
        </button>
        <a href={listAddress('csv', job)} download>
          CSV
        </a>
        <a href={listAddress('json', job)} download>
          JSON
        </a>
      </div>
      {beside && <SideBySide options={found.data.options} units={units} />}
      <ol className={styles.options} hidden={beside}>
        {found.data.options.map((o) => (
          <OptionRow
            key={`${o.torch_set} ${o.gas} ${o.shield_gas}`}
            option={o}
            job={job}
            fastest={fastest}
            units={units}
          />
        ))}
      </ol>
      <p className={styles.soft}>
        Held at speed: the share of a {showLength(job.straight_mm, units).text} {units.length_unit}{' '}
        straight, and of a {showLength(job.circle_mm, units).text} {units.length_unit} circle, that this
        machine cuts at nine tenths of the speed and more. What a run costs counts one start.
      </p>
    </>
  );
}
