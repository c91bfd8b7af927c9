import { Choices } from '../kit/Choices';
import { NumberField } from '../kit/NumberField';
import { QuantityField } from '../kit/QuantityField';
import { useUnits } from '../kit/queries';
import { inInches, showLength, lengthPer, INCHES } from '../kit/units';
import type { Change, Page } from './queries';
import styles from './square.module.css';

/** How this gantry is held square and driven: it turns a skew into steps, or into a stop to set. Kept with the table. */
export function Gantry({ page, change }: { page: Page; change: Change }) {
  const units = useUnits();
  const s = page.settings;
  const inch = inInches(units);
  const per = inch ? lengthPer(INCHES) : 1;
  const steps = (name: 'steps_per_mm_x' | 'steps_per_mm_y', axis: string) => {
    const kept = s[name] ?? null;
    return (
      <NumberField
        whenLeft
        label={`Steps along ${axis}`}
        after={inch ? 'an inch' : 'a mm'}
        value={kept === null ? null : Number((kept * per).toFixed(3))}
        onType={(v) => change({ [name]: v === null ? null : v / per })}
      />
    );
  };
  return (
    <section className={styles.gantry} aria-label="The gantry">
      <h2>The gantry, kept with the table</h2>
      <div className={styles.around}>
        <QuantityField
          label="Between the gantry’s drives"
          quantity="length"
          unit={units.length_unit}
          whenLeft
          initial={s.drive_distance_mm ? showLength(s.drive_distance_mm, units).text : ''}
          onRead={(v) => {
            if (v !== null && v !== s.drive_distance_mm) change({ drive_distance_mm: v });
          }}
        />
        {steps('steps_per_mm_x', 'X')}
        {steps('steps_per_mm_y', 'Y')}
      </div>
      <Choices
        label="It is squared"
        value={s.squared_by ?? null}
        choices={[
          { value: 'motors', label: 'by its two motors' },
          { value: 'stops', label: 'at stops' },
          { value: 'by_hand', label: 'at a coupling' },
        ]}
        onChoose={(squared_by) => change({ squared_by })}
      />
    </section>
  );
}
