import { useUnits } from '../kit/queries';
import { showAlong, showLength, withUnit } from '../kit/units';
import { Converter } from './Converter';
import { HeightPoints } from './HeightPoints';
import styles from './height.module.css';
import { OfTrial } from './OfTrial';
import type { TrialHeight } from './queries';
import { Schools } from './Schools';
import { UnderControl } from './UnderControl';

/** The set-point: what a millimetre is worth, three schools side by side, and what to tell the control. */
export function SetPointPage() {
  return (
    <OfTrial title="The set-point, three schools">
      {(height) => (
        <>
          <Schools height={height} />
          <UnderControl height={height} />
          <Worth height={height} />
        </>
      )}
    </OfTrial>
  );
}

function Worth({ height }: { height: TrialHeight }) {
  const units = useUnits();
  const { volts } = height;
  return (
    <section className={styles.worth} aria-labelledby="worth">
      <div>
        <h2 id="worth">Volts for height</h2>
        <p className={styles.heroLine}>
          <b className="number">{showAlong('slope', volts.slope_v_per_mm, units).text}</b> ±{' '}
          {showAlong('slope', volts.slope_sd, units).text} {showAlong('slope', 1, units).unit}
          {!volts.taught && <span className={styles.mark}>mostly the trade’s usual</span>}
        </p>
        <p>{volts.says}</p>
        <p className={styles.soft}>
          Wear: {volts.wear_v_per_1000.toFixed(1)} ± {volts.wear_sd.toFixed(1)} V more for each thousand
          starts, at the same height
          {volts.wear_taught ? ', from these cuts' : ': the trade’s usual so far'}.
        </p>
        <Converter trialId={height.trial_id} cutHeight={height.cut_height_mm} />
        <p className={styles.soft}>
          Touch risk begins at {withUnit(showLength(height.touch_mm, units))}, the trial’s own limit.
        </p>
      </div>
      <HeightPoints height={height} />
    </section>
  );
}
