import { at } from '../kit/place';
import { DROSS_EFFORT } from '../kit/words.gen';
import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import type { Recipe } from '../kit/client';
import { Figure } from '../kit/Figure';
import { SettingFigures } from '../kit/SettingFigures';
import { KerfSection } from '../kit/KerfSection';
import { Notice, refusalText } from '../kit/Notice';
import { shopQuery } from '../kit/queries';
import { arrowOf } from '../kit/ways';
import { showDegrees, showLength, showSpeed, type ShopUnits, chanceIn100 } from '../kit/units';
import { Watching } from './Watching';
import styles from './book.module.css';
import { provenCut } from './model';
import { recipeQuery } from './queries';

/** A locked recipe: what to dial, large enough to read across the shop, and the cuts that prove it. */
export function RecipePage() {
  const { recipeId } = useParams();
  const id = Number(recipeId);
  const recipe = useQuery(recipeQuery(id));
  const shop = useQuery(shopQuery);
  if (recipe.isError && !recipe.data) return <Notice kind="refusal">{refusalText(recipe.error)}</Notice>;
  if (!recipe.data || !shop.data) return null;
  return <Shown r={recipe.data} units={shop.data} />;
}

function Shown({ r, units }: { r: Recipe; units: ShopUnits }) {
  const { setting, torch_set: torch, evidence } = r.recipe;
  const cut = provenCut(r);
  const target = evidence.target;
  return (
    <main className={styles.recipe}>
      <header>
        <div>
          <h1>
            {r.plate} {r.recipe.metal.replace('_', ' ')}
            {r.recipe.title && `, ${r.recipe.title}`}
          </h1>
          <p className="soft">
            {torch.name}, {torch.amperage_a} A, {torch.gas}, on the {r.recipe.table}. Locked{' '}
            {new Date(r.recipe.locked_at).toLocaleDateString([], { dateStyle: 'medium' })}
            {r.recipe.locked_by && ` by ${r.recipe.locked_by}`}.
          </p>
        </div>
        <strong className={styles.revision} data-old={!r.in_force}>
          {r.in_force ? `■ Revision ${r.revision}, in force` : `□ Revision ${r.revision}, superseded`}
        </strong>
      </header>
      <div className={styles.dialled}>
        <dl>
          <SettingFigures setting={setting} unread="not measured" units={units} />
        </dl>
        {cut && (
          <KerfSection
            thicknessMm={r.recipe.thickness_mm}
            kerfMm={setting.kerf_mm}
            leftDeg={cut.left}
            rightDeg={cut.right}
            goodSide={cut.goodSide}
            dross={cut.dross}
            toleranceDeg={target.bevel_deg}
            bothSides={target.sides === 'both'}
            standoff={{
              mm: 0,
              text: `${showLength(setting.cut_height_mm, units).text} ${units.length_unit}`,
            }}
            through="full"
          />
        )}
      </div>
      <Watching recipe={r} units={units} />
      <UnderControl told={r.recipe.under_control ?? null} />
      <Evidence r={r} units={units} />
      <p className={styles.links}>
        <Link to={`/trials/new?${again(r)}`}>Cut it again</Link>
        <a href={at(`/api/recipes/${r.id}/program.nc?dry_run=true`)} download>
          Dry run, torch off
        </a>
        <a href={at(`/api/recipes/${r.id}/program.nc`)} download>
          A square at it, as a program
        </a>
        <a href={at(`/api/recipes/${r.id}/sheet.pdf`)} target="_blank" rel="noreferrer">
          Print it on one page
        </a>
        <a href={at(`/api/recipes/${r.id}/file`)} download>
          Save to a file
        </a>
        {r.trial_id && <Link to={`/trials/${r.trial_id}`}>The trial it came from</Link>}
      </p>
    </main>
  );
}

/** Whether it was proven under height control, and what that is told. */
function UnderControl({ told }: { told: Recipe['recipe']['under_control'] | null }) {
  if (!told) return <p className={styles.under}>□ Proven at a fixed height only, height control off.</p>;
  return (
    <section className={styles.under} aria-label="Under height control">
      <p>
        {told.proven
          ? '■ Proven under height control too'
          : '□ Proven at a fixed height only; under control it would be told this'}
      </p>
      <dl>
        <Figure
          name="Set-point"
          text={told.set_point_v?.toFixed(1) ?? 'sampled'}
          unit={
            told.set_point_v ? `V${told.at_starts != null ? ` at ${told.at_starts} starts` : ''}` : ''
          }
        />
        <Figure name="Delay" text={told.control_delay_s.toFixed(2)} unit="s" />
        <Figure name="Dead band" text={`± ${told.dead_band_v.toFixed(1)}`} unit="V" />
        {told.hold_below_speed_share != null && (
          <Figure
            name="Hold below"
            text={String(Math.round(100 * told.hold_below_speed_share))}
            unit="% of speed"
          />
        )}
        {told.crossing_jump_v != null && (
          <Figure name="Hold on a jump of" text={told.crossing_jump_v.toFixed(1)} unit="V" />
        )}
        <Figure name="Holes" text={told.hold_holes ? 'held' : 'under control'} unit="" />
      </dl>
    </section>
  );
}

/** The job of the recipe, for a new trial that starts from it. */
function again(r: Recipe): string {
  const { metal, thickness_mm, torch_set } = r.recipe;
  return new URLSearchParams({
    metal,
    thickness: String(thickness_mm),
    named: torch_set.name,
    gas: torch_set.gas,
  }).toString();
}

function Evidence({ r, units }: { r: Recipe; units: ShopUnits }) {
  const { proof, evidence } = r.recipe;
  const good = provenCut(r)?.goodSide;
  return (
    <section aria-labelledby="evidence">
      <h2 id="evidence">
        Evidence: within {evidence.target.bevel_deg.toFixed(1)}°, {chanceIn100(proof.probability_pass)}{' '}
        in 100 that the next one passes
      </h2>
      <table className={styles.evidence}>
        <thead>
          <tr>
            <th scope="col">Cut</th>
            <th scope="col">Speed, {units.speed_unit}</th>
            <th scope="col">Height, {units.length_unit}</th>
            <th scope="col">Volts</th>
            <th scope="col">Edges, by the way the torch went</th>
            <th scope="col">Underside</th>
          </tr>
        </thead>
        <tbody>
          {evidence.cuts.map((c) => (
            <tr key={c.id} data-passed={proof.passed_cuts.includes(c.id)}>
              <th scope="row">
                {c.id.replace('c', '')} {proof.passed_cuts.includes(c.id) ? '■ passed' : ''}
              </th>
              <td>{showSpeed(c.speed_mm_min, units).text}</td>
              <td>{showLength(c.cut_height_mm, units).text}</td>
              <td>{c.arc_voltage_v?.toFixed(1) ?? 'not read'}</td>
              <td>
                {(c.edges ?? [])
                  .map(
                    (e) =>
                      `${arrowOf(e.heading_deg)} ${showDegrees(e.bevel_deg)}${e.side === good ? '' : e.side === 'both' ? ' mean of both' : ' scrap'}`,
                  )
                  .join(', ') || 'not read'}
              </td>
              <td>
                {c.dross
                  ? c.dross.map((d) => DROSS_EFFORT[d.grade] ?? '').join(', ') || 'clean'
                  : 'not looked at'}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
