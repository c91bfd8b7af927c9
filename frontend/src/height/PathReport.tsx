import { Notice } from '../kit/Notice';
import { useUnits } from '../kit/queries';
import { chanceInWords, showAlong, showLength, withUnit, type ShopUnits } from '../kit/units';
import styles from './height.module.css';
import type { Examined, Typed } from './queries';
import { TorchMove } from './TorchMove';

const TORCH: Record<Examined['report']['torch'], string> = {
  flies_up: 'flies up',
  dives: 'dives into the plate',
  rides_high: 'rides high',
  rides_low: 'rides low',
  holds: 'holds its height',
};

const FAULT: Record<Examined['report']['explanations'][number]['fault'], string> = {
  divides_again: 'divides again',
  does_not_divide: 'does not divide',
  wrong_ratio: 'has another ratio',
  open_or_shorted: 'open or shorted',
  none: 'reads right',
};

const STAGE: Record<Examined['report']['explanations'][number]['stage'], string> = {
  source: 'The source',
  wiring: 'The wiring',
  card: 'The input card',
  multiplier: 'The multiplier',
};

function offBy(error: number | null, slope: number | null, units: ShopUnits): string {
  if (error === null) return `Farther off than ${withUnit(showLength(3, units))}: no height to name.`;
  if (Math.abs(error) < 0.005) return 'On its height.';
  const side = error > 0 ? 'too high' : 'too low';
  const at = slope === null ? '' : `, at ${withUnit(showAlong('slope', slope, units))}`;
  return `${withUnit(showLength(Math.abs(error), units))} ${side}${at}.`;
}

/** What the torch will do, which stage is wrong, what would tell, and what to do, safest first. */
export function PathReport({ examined, typed }: { examined: Examined; typed: Typed }) {
  const { report, corrections } = examined;
  const units = useUnits();
  const error = report.height_error_mm ?? null;
  const felt = typed.seenBy === 'torch' ? typed.behaviour : null;
  const torch = felt ?? report.torch;
  return (
    <div className={styles.report}>
      <section aria-labelledby="torch">
        <h2 id="torch">{felt ? 'You saw that the torch' : `At ${typed.setPoint} V the torch`}</h2>
        <p className={styles.torch} data-torch={torch}>
          {torch === 'holds' ? '■' : '▲'} {TORCH[torch]}
        </p>
        <TorchMove torch={torch} error={felt ? null : error} />
        <p className={styles.soft}>
          {felt
            ? `As told, the path would have it so that it ${TORCH[report.torch]}.`
            : offBy(error, typed.slope, units)}
        </p>
        <Notice kind="caution" title="Before any cabinet">
          {report.cautions.join(' ')}
        </Notice>
      </section>
      <section aria-labelledby="stages">
        <h2 id="stages">Which stage</h2>
        {report.explanations.length === 0 && (
          <p className={styles.soft}>
            Nothing was seen yet, so nothing is wrong yet: this is what the path as told will do. One
            pair of volts, read at the same moment, tells more than any guess.
          </p>
        )}
        <ol>
          {report.explanations.map((e) => (
            <li key={`${e.stage} ${e.fault} ${e.actual_ratio}`} className={styles.explanation}>
              <strong>
                {e.fault === 'none' ? 'The path' : STAGE[e.stage]} {FAULT[e.fault]}
              </strong>
              <span>{chanceInWords(e.chance)}</span>
              <p>{e.fix}</p>
              <p className={styles.soft}>To tell: {e.check}</p>
            </li>
          ))}
        </ol>
      </section>
      <section aria-labelledby="todo">
        {corrections.length > 0 && (
          <>
            <h2 id="todo">What fits, safest first</h2>
            <ol className={styles.corrections}>
              {corrections.map((c, i) => (
                <li key={c.what}>
                  <b>{i + 1}</b>
                  <span>
                    {c.what}
                    <small>{c.at_screen ? 'at the screen' : 'inside a cabinet: electrician'}</small>
                  </span>
                </li>
              ))}
            </ol>
          </>
        )}
      </section>
    </div>
  );
}
