import { Link } from 'react-router';
import { CutThumb } from '../kit/CutThumb';
import { KerfSection } from '../kit/KerfSection';
import { showDegrees, showLength, showSpeed, type ShopUnits } from '../kit/units';
import styles from './bench.module.css';
import type { Bench, Cut } from './model';

/** The cuts so far along the foot, newest last, and the next one's outline. */
export function CutRibbon({ bench, units }: { bench: Bench; units: ShopUnits }) {
  const next = bench.now.setting;
  const { trial, next_expected: expected } = bench;
  return (
    <section
      aria-label="Cuts so far"
      className={styles.ribbon}
      ref={(e) => {
        e?.scrollTo({ left: e.scrollWidth });
      }}
      tabIndex={0}
    >
      <ol>
        {bench.cuts.map((c) => (
          <li key={c.id} data-struck={c.struck_out}>
            <Link to={`/trials/${trial.id}#cut-${c.number}`}>
              <header>
                <strong>
                  {c.number} {c.struck_out && 'struck out'}
                </strong>
                <span className={styles.worst}>
                  {c.worst_kept_deg !== null && 'worst '}
                  {showDegrees(c.worst_kept_deg)}
                </span>
              </header>
              <CutThumb cut={c} trial={trial} />
              <span>
                {showSpeed(c.speed_mm_min, units).text} · {showLength(c.cut_height_mm, units).text}
              </span>
              <span className={styles.foot}>
                {c.struck_out || !c.verdict ? '' : VERDICT[c.verdict]}
                {c.underside}
              </span>
            </Link>
          </li>
        ))}
        {expected && !trial.recipe_id && bench.advice.status !== 'square' && (
          <li className={styles.coming}>
            <header>
              <span>
                <strong>{bench.cuts.length + 1}</strong>
              </span>
              <span>next</span>
            </header>
            <KerfSection
              size="thumb"
              thicknessMm={trial.thickness_mm}
              kerfMm={trial.start.kerf_mm}
              leftDeg={expected.bevel_left_deg}
              rightDeg={expected.bevel_right_deg}
              goodSide={trial.good_side}
              dross={expected.dross}
            />
            <span>
              {showSpeed(next.speed_mm_min, units).text} · {showLength(next.cut_height_mm, units).text}
            </span>
            <span className={styles.foot}>expected</span>
          </li>
        )}
      </ol>
    </section>
  );
}

/** Whether the cut passed: word and shape. */
const VERDICT: Record<NonNullable<Cut['verdict']>, string> = {
  passed: '■ passed · ',
  maybe: '◧ maybe · ',
  no: '□ no · ',
};
