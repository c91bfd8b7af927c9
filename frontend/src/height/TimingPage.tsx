import { Link } from 'react-router';
import { Notice } from '../kit/Notice';
import { useUnits } from '../kit/queries';
import { showLength, showSize, showSpeed, withUnit, type ShopUnits } from '../kit/units';
import styles from './height.module.css';
import { OfTrial } from './OfTrial';
import type { TrialHeight } from './queries';
import { StartPicture } from './StartPicture';

/** The timing of a start: pierce, the way down, settling, and when control wakes; with what is cut blind until then. */
export function TimingPage() {
  return <OfTrial title="From the arc to control">{(height) => <Timing height={height} />}</OfTrial>;
}

function Timing({ height }: { height: TrialHeight }) {
  const units = useUnits();
  const { timing } = height;
  const length = (mm: number) => withUnit(showLength(mm, units));
  return (
    <>
      <p className={styles.heroLine}>
        Let control wake <b className="number">{timing.control_delay_s.toFixed(2)}</b> s after{' '}
        {timing.counts_from === 'arc_strike' ? 'the arc strikes' : 'motion begins'}: until then{' '}
        <b className="number">{showLength(timing.blind_mm, units).text}</b> {units.length_unit} are cut
        blind.
      </p>
      <StartPicture timing={timing} units={units} />
      {!timing.measured && (
        <Notice kind="note">
          When the volts are at rest is worked out, not measured: a recording of one cut tells.{' '}
          <Link to="/height">Live cut</Link> or <Link to="/height/recordings">take in a file</Link>.
        </Notice>
      )}
      {!(timing.counts_from_known && timing.acceleration_known) && (
        <Notice kind="note">
          {!timing.counts_from_known &&
            'From when this control counts its delay is not written down: arc strike is taken. '}
          {!timing.acceleration_known &&
            'Its acceleration is not written down: an ordinary one is taken. '}
          <Link to="/machine">Say it on the Machine page</Link>.
        </Notice>
      )}
      <div className={styles.two}>
        <section aria-labelledby="lead">
          <h2 id="lead">The lead-in</h2>
          <p>
            At least <b className="number">{showLength(timing.lead_in_mm, units).text}</b>{' '}
            {units.length_unit}: {timing.lead_in_why}. It need not cover the blind way: that is as high
            as touch-off made it.
          </p>
          <h2>Holes</h2>
          <p>
            Held throughout, at {withUnit(showSpeed(timing.hole_speed_mm_min, units))} or less
            {timing.least_hole_mm > 3 &&
              `; under Ø ${length(timing.least_hole_mm)} this machine does not reach even that`}
            . Hold below {Math.round(100 * timing.hold_below_share)} % of speed everywhere else.
          </p>
        </section>
        <Features height={height} units={units} />
      </div>
      <TradeOffs height={height} units={units} />
    </>
  );
}

function Features({ height, units }: { height: TrialHeight; units: ShopUnits }) {
  const most = Math.max(...height.features.map((f) => f.way_mm));
  return (
    <section aria-labelledby="features">
      <h2 id="features">What control ever sees</h2>
      <ul className={styles.features}>
        {height.features.map((f) => (
          <li key={f.name}>
            <span>{f.name}</span>
            <span className={styles.way} style={{ width: `${Math.max(6, (100 * f.way_mm) / most)}%` }}>
              <i style={{ width: `${(100 * f.under_mm) / f.way_mm}%` }} />
            </span>
            <span className={styles.soft}>
              {f.under_mm === 0
                ? `never: ${f.why}`
                : `${withUnit(showSize(f.under_mm, units))} of ${withUnit(showSize(f.way_mm, units))}`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function TradeOffs({ height, units }: { height: TrialHeight; units: ShopUnits }) {
  return (
    <section aria-labelledby="trade">
      <h2 id="trade">Pierce low and wait, or high and early</h2>
      <div className={styles.trade}>
        {height.trade_offs.map((t) => (
          <article key={t.name}>
            <h3>{t.name}</h3>
            <dl>
              <div>
                <dt>pierce height</dt>
                <dd className="number">{withUnit(showLength(t.pierce_height_mm, units))}</dd>
              </div>
              <div>
                <dt>control after</dt>
                <dd className="number">{t.control_delay_s.toFixed(2)} s</dd>
              </div>
              <div>
                <dt>blind</dt>
                <dd className="number">{withUnit(showLength(t.blind_mm, units))}</dd>
              </div>
              <div>
                <dt>off when it wakes</dt>
                <dd className="number">{t.off_at_waking_v.toFixed(1)} V</dd>
              </div>
            </dl>
            <p>{t.why}</p>
          </article>
        ))}
      </div>
    </section>
  );
}
