import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Choices } from '../kit/Choices';
import { NoTable } from '../kit/NoTable';
import { Notice, refusalText } from '../kit/Notice';
import { NumberField } from '../kit/NumberField';
import { QuantityField } from '../kit/QuantityField';
import { useTable, useUnits } from '../kit/queries';
import { showAlong, textAlong, unitOf } from '../kit/units';
import styles from './height.module.css';
import { examineQuery, fileOf, signalPageQuery, type SignalPage, type Typed } from './queries';
import { PathHistory } from './PathHistory';
import { PathReport } from './PathReport';
import { VoltsAlong } from './VoltsAlong';

const SEEN = [
  { value: 'volts', label: 'Both volts' },
  { value: 'torch', label: 'Only what the torch did' },
  { value: 'nothing', label: 'Nothing yet' },
] as const;

const BEHAVIOURS = [
  { value: 'flies_up', label: 'flew up' },
  { value: 'rides_high', label: 'rode high' },
  { value: 'holds', label: 'held' },
  { value: 'rides_low', label: 'rode low' },
  { value: 'dives', label: 'dived' },
] as const;

/** The way of the arc voltage to the screen: what it shows, what is wrong with it, what to do. */
export function SignalPathPage() {
  const table = useTable();
  const page = useQuery({ ...signalPageQuery(table?.id ?? 0), enabled: table !== null });
  if (table === null) return <NoTable />;
  if (page.isError && !page.data) return <Notice kind="refusal">{refusalText(page.error)}</Notice>;
  if (!page.data) return null;
  return <SignalPath key={table.id} tableId={table.id} tableName={table.name} page={page.data} />;
}

function begin(page: SignalPage): Typed {
  const now = page.paths.at(0);
  return {
    source: now?.source_ratio ?? null,
    card: now?.card_ratio ?? null,
    multiplier: now?.multiplier ?? null,
    seenBy: now && now.true_v === null ? 'nothing' : 'volts',
    trueV: now?.true_v ?? null,
    screenV: now?.screen_v ?? null,
    behaviour: null,
    setPoint: page.set_point_v ?? 120,
    slope: page.slope_v_per_mm,
    height: page.cut_height_mm,
  };
}

function SignalPath({
  tableId,
  tableName,
  page,
}: {
  tableId: number;
  tableName: string;
  page: SignalPage;
}) {
  const [typed, setTyped] = useState(() => begin(page));
  const type = (some: Partial<Typed>) => setTyped((before) => ({ ...before, ...some }));
  const file = fileOf(typed);
  const units = useUnits();
  const examined = useQuery(examineQuery(file));
  return (
    <main className={styles.height}>
      <header className={styles.head}>
        <h1>Signal path of the {tableName}</h1>
        <Choices
          label="What was seen"
          value={typed.seenBy}
          choices={SEEN}
          onChoose={(seenBy) => type({ seenBy })}
        />
      </header>
      <VoltsAlong typed={typed} type={type} examined={file ? (examined.data ?? null) : null} />
      {typed.seenBy === 'torch' && (
        <Choices
          label="When height control woke, the torch"
          value={typed.behaviour}
          choices={BEHAVIOURS}
          onChoose={(behaviour) => type({ behaviour })}
        />
      )}
      {examined.isError && <Notice kind="refusal">{refusalText(examined.error)}</Notice>}
      {file === null ? (
        <p className={styles.wait}>
          Give what each stage is told to do: 1 is straight through. The source’s manual names its
          divided output, the card’s link or label its own, the controller’s page the multiplier.
        </p>
      ) : (
        examined.data && <PathReport examined={examined.data} typed={typed} />
      )}
      <section className={styles.foot} aria-label="Set-point and history">
        <div className={styles.asked}>
          <NumberField
            label="Set-point"
            value={typed.setPoint}
            after="V"
            onType={(setPoint) => type({ setPoint })}
            help={page.set_point_v ? 'from the trial on the Bench' : 'no trial on the Bench tells it'}
          />
          <QuantityField
            label="Volts for height"
            quantity="slope"
            unit={unitOf('slope', units)}
            initial={textAlong('slope', typed.slope, units)}
            onRead={(slope) => type({ slope })}
            help={`± ${showAlong('slope', page.slope_sd, units).text}, ${page.slope_from}`}
          />
        </div>
        <PathHistory tableId={tableId} typed={typed} page={page} />
      </section>
    </main>
  );
}
