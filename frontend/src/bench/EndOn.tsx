import { Link } from 'react-router';
import { KerfSection } from '../kit/KerfSection';
import { Notice } from '../kit/Notice';
import { KERF_TIMES, LARGE, angleTimes } from '../kit/section';
import { showLength, type ShopUnits } from '../kit/units';
import styles from './bench.module.css';
import { EdgeRose } from './EdgeRose';
import { kept, lastCut, type Bench, type Cut } from './model';

/** The last cut seen end-on beside what is expected of the next, and its bevel taken apart. */
export function EndOn({ bench, units }: { bench: Bench; units: ShopUnits }) {
  const cut = lastCut(bench);
  const { trial, next_expected: expected } = bench;
  const drawn = drawnOf(bench, cut);
  const height = showLength(drawn.heightMm, units);
  return (
    <section className={styles.endOn} aria-labelledby="end-on">
      <header className={styles.endOnHead}>
        <h2 id="end-on">{cut ? `Cut ${cut.number}, end-on` : 'What to expect, end-on'}</h2>
        {cut && <Link to="/trouble">What is wrong with it?</Link>}
      </header>
      <Cautions bench={bench} />
      <KerfSection
        {...drawn.edges}
        goodSide={trial.good_side}
        bothSides={trial.target.sides === 'both'}
        dross={drawn.dross}
        expected={
          expected ? { leftDeg: expected.bevel_left_deg, rightDeg: expected.bevel_right_deg } : undefined
        }
        toleranceDeg={trial.target.bevel_deg}
        worstDeg={drawn.worstDeg}
        standoff={{ mm: 0, text: `${height.text} ${height.unit}` }}
        through={drawn.through}
      />
      <p className={styles.legend}>
        <span>
          Angles drawn ×{angleTimes(drawn.edges, LARGE)}, kerf ×{KERF_TIMES}.
        </span>
        {expected && (
          <span>
            <i data-line="expected" /> next cut, ±{expected.bevel_sd_deg.toFixed(1)}°
          </span>
        )}
        <span>
          <i data-line="limit" /> the {trial.target.bevel_deg.toFixed(1)}° you asked for
        </span>
        {cut && <strong>Underside: {cut.underside}</strong>}
      </p>
      {cut && bench.taught && (
        <p className={styles.taught}>
          <strong>What cut {cut.number} taught.</strong> {bench.taught}
        </p>
      )}
      <EdgeRose bench={bench} />
    </section>
  );
}

/** The last cut as it is drawn, or what it begins with: an unread edge is none. */
function drawnOf({ trial }: Bench, cut: Cut | null) {
  const { start, thickness_mm: thicknessMm } = trial;
  if (!cut)
    return {
      edges: { thicknessMm, kerfMm: start.kerf_mm, leftDeg: null, rightDeg: null },
      heightMm: start.cut_height_mm,
      dross: null,
      worstDeg: undefined,
      through: null,
    };
  const { kerf_mm: kerf, bevel_left_deg: leftDeg, bevel_right_deg: rightDeg } = cut;
  return {
    edges: { thicknessMm, kerfMm: kerf ?? start.kerf_mm, leftDeg, rightDeg },
    heightMm: cut.cut_height_mm,
    dross: cut.dross ?? null,
    worstDeg: cut.worst_kept_deg,
    through: cut.through,
  };
}

/** What to mind before the first cut: beside its numbers and its button at every size of screen, over neither. */
function Cautions({ bench }: { bench: Bench }) {
  if (kept(bench).length > 0 || bench.trial.recipe_id) return null;
  return bench.trial.warnings.map((w) => (
    <Notice key={w} kind="caution">
      {w}
    </Notice>
  ));
}
