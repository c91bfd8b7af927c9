import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api, type Schema } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { NumberField } from '../kit/NumberField';
import { QuantityField } from '../kit/QuantityField';
import { useUnits } from '../kit/queries';
import { showLength, withUnit } from '../kit/units';
import styles from './height.module.css';
import { LoopPicture } from './LoopPicture';
import { OfTrial } from './OfTrial';
import type { LoopRun, TrialHeight } from './queries';

/** What the torch does over a warped sheet: as the control is told now, and as Orthotome would tell it. */
export function LoopPage() {
  return <OfTrial title="Over a warped sheet">{(height) => <Loop height={height} />}</OfTrial>;
}

interface Typed {
  rise: number;
  wave: number;
  corners: number;
  z: number;
  gain: number | null;
  dead: number | null;
  hold: number | null;
  set: number | null;
}

function Loop({ height }: { height: TrialHeight }) {
  const units = useUnits();
  const [typed, setTyped] = useState<Typed>({
    rise: 4,
    wave: 250,
    corners: 0,
    z: height.loop.z_speed_mm_s,
    gain: 0.5,
    dead: height.loop.dead_band_v ?? null,
    hold: height.loop.hold_below_share == null ? null : Math.round(100 * height.loop.hold_below_share),
    set: null,
  });
  const type = (some: Partial<Typed>) => setTyped((before) => ({ ...before, ...some }));
  const job = jobOf(typed, height);
  const found = useQuery({
    queryKey: ['loop', job],
    queryFn: () => answered(api.POST('/api/height/loop', { body: job })),
    placeholderData: (before) => before,
    staleTime: Infinity,
  });
  const length = (mm: number) => showLength(mm, units).text;
  return (
    <div className={styles.loop}>
      <section className={styles.asks} aria-label="What is cut, and what the control is told">
        <QuantityField
          label="Waves, valley to crest"
          quantity="length"
          unit={units.length_unit}
          initial={length(typed.rise)}
          onRead={(mm) => mm !== null && type({ rise: mm })}
        />
        <QuantityField
          label="From crest to crest"
          quantity="length"
          unit={units.length_unit}
          initial={length(typed.wave)}
          onRead={(mm) => mm !== null && type({ wave: mm })}
        />
        <NumberField
          label="Corners on the way"
          value={typed.corners}
          onType={(n) => type({ corners: Math.min(20, Math.max(0, Math.round(n ?? 0))) })}
        />
        <QuantityField
          label="Z makes, each second"
          quantity="length"
          unit={units.length_unit}
          initial={length(typed.z)}
          onRead={(mm) => mm !== null && mm > 0 && type({ z: mm })}
        />
        <QuantityField
          label="Gain: Z each second for a volt"
          quantity="length"
          unit={units.length_unit}
          initial={length(typed.gain ?? 0)}
          onRead={(gain) => type({ gain })}
        />
        <NumberField label="Dead band" value={typed.dead} after="V" onType={(dead) => type({ dead })} />
        <NumberField
          label="Hold below"
          value={typed.hold}
          after="% of speed"
          onType={(hold) => type({ hold })}
        />
        <NumberField
          label="Set-point off by"
          value={typed.set}
          after="V"
          onType={(set) => type({ set })}
        />
      </section>
      {found.isError && <Notice kind="refusal">{refusalText(found.error)}</Notice>}
      {found.data && (
        <section className={styles.runs2} aria-label="What the torch does">
          <Run title="As it is told" run={found.data.now} />
          <Run title="As Orthotome would tell it" run={found.data.chosen} />
          <ul className={styles.whys}>
            {found.data.why.map((w) => (
              <li key={w}>{w}</li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

function Run({ title, run }: { title: string; run: LoopRun }) {
  const units = useUnits();
  const bad = run.strikes.length > 0 || run.hunts;
  const bevel = Math.max(...run.bevel_deg.map(Math.abs));
  return (
    <figure className={styles.run}>
      <figcaption>
        <h2>{title}</h2>
        <p data-bad={bad}>
          {bad ? '▲ ' : ''}
          {run.says} Off by {withUnit(showLength(run.rms_mm, units))} r.m.s., which moves the bevel by up
          to {bevel.toFixed(1)}°.
        </p>
      </figcaption>
      <LoopPicture run={run} />
    </figure>
  );
}

/** What is known of the trial, with what was typed over it. */
function jobOf(t: Typed, { loop }: TrialHeight): Schema['LoopRequest'] {
  return {
    ...loop,
    rise_mm: t.rise,
    wave_mm: Math.max(10, t.wave),
    corners: t.corners,
    z_speed_mm_s: t.z,
    set_point_v: loop.steady_v + (t.set ?? 0),
    gain_mm_s_v: t.gain,
    dead_band_v: t.dead,
    hold_below_share: t.hold === null ? null : t.hold / 100,
  };
}
