import Button from '@mui/material/Button';
import { useState, type ReactNode } from 'react';
import { Choices } from '../kit/Choices';
import { NumberField } from '../kit/NumberField';
import { QuantityField } from '../kit/QuantityField';
import { showLength, showSpeed, type ShopUnits, showAlong, withUnit } from '../kit/units';
import type { Check } from './checks';
import type { Of } from './CutWith';
import { STOPWATCH_U_S } from '../kit/words.gen';
import { SaveButton } from '../kit/SaveButton';
import styles from './motion.module.css';
import { ProofPiece, type Proof } from './ProofPiece';
import { useChange, type Page } from './queries';
import { SaidSo } from './SaidSo';

interface Run {
  legs: number | null;
  leg_mm: number | null;
  speed_mm_min: number | null;
  seconds: number | null;
}

const NONE: Run = { legs: null, leg_mm: null, speed_mm_min: null, seconds: null };
const BRISK_MM_MIN = 6000; // of a first zig-zag, where the table's fastest is not written down

/** The acceleration by a stopwatch over a zig-zag; a second one at half the speed tells a pause at the turns apart. */
export function Acceleration({
  page,
  of,
  choice,
  units,
}: {
  page: Page;
  of: Of | null;
  choice: ReactNode;
  units: ShopUnits;
}) {
  const { change } = useChange(page);
  const [axis, setAxis] = useState<'x' | 'y'>('x');
  const [speed, setSpeed] = useState(
    Math.min(BRISK_MM_MIN, page.settings.fastest_mm_min ?? BRISK_MM_MIN),
  );
  const [runs, setRuns] = useState<readonly Run[]>([NONE]);
  const [filled, setFilled] = useState(0);
  const whole = runs.flatMap(({ legs, leg_mm, speed_mm_min, seconds }) =>
    legs === null || leg_mm === null || speed_mm_min === null || seconds === null
      ? []
      : [{ legs, leg_mm, speed_mm_min, seconds, u_s: STOPWATCH_U_S }],
  );
  const check: Check | null = whole.length > 0 ? { kind: 'acceleration', axis, runs: whole } : null;
  const set = (at: number, some: Partial<Run>) =>
    setRuns((all) => all.map((r, i) => (i === at ? { ...r, ...some } : r)));
  const take = (proof: Proof) => {
    const run: Run = {
      legs: proof.legs,
      leg_mm: proof.leg_mm,
      speed_mm_min: proof.speed_mm_min,
      seconds: null,
    };
    setRuns((all) => (all.length === 1 && all[0] === NONE ? [run] : [...all, run]));
    setFilled((n) => n + 1);
  };
  return (
    <div className={styles.columns}>
      <div className={styles.asked}>
        <p>
          Run a zig-zag with the torch off, and stop its time: every turn is a full stop, so that half of
          it is coming to speed.
        </p>
        <Choices
          label="Along"
          value={axis}
          choices={[
            { value: 'x', label: 'X' },
            { value: 'y', label: 'Y' },
          ]}
          onChoose={setAxis}
        />
        <div className={styles.fields}>
          {choice}
          <QuantityField
            label="At a speed of"
            quantity="speed"
            unit={units.speed_unit}
            initial={showSpeed(speed, units).text}
            onRead={(v) => v !== null && setSpeed(v)}
          />
        </div>
        {of && (
          <ProofPiece
            tableId={page.table_id}
            name={axis === 'x' ? 'zig-zag-x' : 'zig-zag-y'}
            of={of}
            more={{ speed_mm_min: speed }}
          >
            {(proof) => <Button onClick={() => take(proof)}>Time this one</Button>}
          </ProofPiece>
        )}
        {runs.map((r, i) => (
          <Timed
            key={`${filled} ${i}`}
            number={i + 1}
            run={r}
            units={units}
            set={(some) => set(i, some)}
          />
        ))}
        <div className={styles.acts}>
          <Button variant="outlined" onClick={() => setRuns((all) => [...all, NONE])}>
            Another run
          </Button>
        </div>
      </div>
      <div className={styles.says}>
        <SaidSo
          tableId={page.table_id}
          check={check}
          before="Legs, their length, the speed and the seconds: what they say stands here."
        >
          {(said) =>
            said.acceleration_mm_s2 != null &&
            said.acceleration_mm_s2 !== page.settings.acceleration_mm_s2 && (
              <SaveButton
                variant="outlined"
                onClick={() => change({ acceleration_mm_s2: said.acceleration_mm_s2 ?? null })}
              >
                Write {withUnit(showAlong('acceleration', said.acceleration_mm_s2, units))} on the
                table’s page
              </SaveButton>
            )
          }
        </SaidSo>
        <p className="soft">
          {page.settings.acceleration_mm_s2
            ? `On the table’s page: ${withUnit(showAlong('acceleration', page.settings.acceleration_mm_s2, units))}. Pieces, choices and programs are told by it; write the slower axis there.`
            : 'Nothing stands on the table’s page yet: an ordinary table’s is assumed wherever speed counts.'}
        </p>
      </div>
    </div>
  );
}

interface TimedProps {
  number: number;
  run: Run;
  units: ShopUnits;
  set: (some: Partial<Run>) => void;
}

/** A zig-zag, with the seconds that it took. */
function Timed({ number, run, units, set }: TimedProps) {
  return (
    <fieldset className={styles.run}>
      <legend>{number === 1 ? 'A zig-zag, timed' : `And another, ${number}`}</legend>
      <NumberField label="Legs" value={run.legs} onType={(legs) => set({ legs })} />
      <QuantityField
        label="Each leg"
        quantity="length"
        unit={units.length_unit}
        initial={run.leg_mm === null ? '' : showLength(run.leg_mm, units).text}
        onRead={(leg_mm) => set({ leg_mm })}
      />
      <QuantityField
        label="Speed"
        quantity="speed"
        unit={units.speed_unit}
        initial={run.speed_mm_min === null ? '' : showSpeed(run.speed_mm_min, units).text}
        onRead={(speed_mm_min) => set({ speed_mm_min })}
      />
      <NumberField
        label="It took"
        after="s"
        value={run.seconds}
        onType={(seconds) => set({ seconds })}
      />
    </fieldset>
  );
}
