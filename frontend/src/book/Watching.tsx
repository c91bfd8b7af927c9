import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { Link } from 'react-router';
import { answered, api, type Recipe } from '../kit/client';
import { NumberField } from '../kit/NumberField';
import { Notice, refusalText } from '../kit/Notice';
import { useSay } from '../kit/undo';
import { showLength, type ShopUnits } from '../kit/units';
import { DROSS_EFFORT } from '../kit/words.gen';
import { TrimLine } from '../torch/TrimLine';
import { ControlChart } from './ControlChart';
import { watchQuery, type Check, type Watch } from './queries';
import styles from './watching.module.css';

const CheckDialog = lazy(async () => ({ default: (await import('./CheckDialog')).CheckDialog }));

const SIGNS: Record<Watch['state'], string> = {
  not_checked: '□',
  still_holds: '■',
  drifting: '◪',
  moved: '▲',
};

/** Whether a proven recipe still holds on the parts as they are: its checks, its trim, and how often to look. */
export function Watching({ recipe, units }: { recipe: Recipe; units: ShopUnits }) {
  const [costs, setCosts] = useState<Costs>({ badPart: null, check: null, each: 10 });
  const [checking, setChecking] = useState(false);
  const watch = useQuery(watchQuery(recipe.id, costs.badPart, costs.check, costs.each ?? 10));
  if (watch.isError && !watch.data) return <Notice kind="refusal">{refusalText(watch.error)}</Notice>;
  if (!watch.data) return null;
  const w = watch.data;
  return (
    <section className={styles.watching} aria-labelledby="watching">
      <header>
        <h2 id="watching" data-state={w.state}>
          {SIGNS[w.state]} {w.state_word[0]?.toUpperCase()}
          {w.state_word.slice(1)}
        </h2>
        {w.table_id !== null && (
          <Button variant="contained" onClick={() => setChecking(true)}>
            Read a piece against it
          </Button>
        )}
      </header>
      <p className={styles.says}>{w.says}</p>
      <VoltsNow watch={w} />
      {w.checks.length > 0 && <ControlChart watch={w} units={units} />}
      {w.checks.length > 0 && <Checks recipeId={recipe.id} checks={w.checks} units={units} />}
      {w.state === 'moved' && recipe.trial_id && (
        <p>
          <Link to="/height/set-point">Trim the set-point</Link>, or{' '}
          <Link to="/torch">ask whom to suspect</Link>.
        </p>
      )}
      <HowOften watch={w} costs={costs} onCosts={(some) => setCosts((was) => ({ ...was, ...some }))} />
      {checking && (
        <Suspense fallback={null}>
          <CheckDialog recipe={recipe} units={units} onClose={() => setChecking(false)} />
        </Suspense>
      )}
    </section>
  );
}

/** The volts to hold on the parts as they are, where the recipe goes by volts. */
function VoltsNow({ watch: { trim, proven_v: proven } }: { watch: Watch }) {
  if (!trim) return null;
  if (trim.held !== 'fixed') return <p>{trim.says}</p>;
  return (
    <div className={styles.now}>
      <p>
        <b className="number">{(trim.now_v ?? proven ?? 0).toFixed(1)}</b> V on the parts as they are
        now, {proven?.toFixed(1) ?? '–'} V as proven. {trim.since_proven}
      </p>
      {trim.by_v !== 0 && <TrimLine trim={trim} />}
    </div>
  );
}

/** What a check is weighed against; null where it is not given. */
interface Costs {
  badPart: number | null;
  check: number | null;
  each: number | null;
}

interface HowOftenProps {
  watch: Watch;
  costs: Costs;
  onCosts: (some: Partial<Costs>) => void;
}

function HowOften({ watch, costs, onCosts }: HowOftenProps) {
  return (
    <details className={styles.often}>
      <summary>
        How often to check: {watch.every_parts ? `one part in ${watch.every_parts}` : 'not worked out'}
      </summary>
      <div>
        <NumberField
          least={0}
          label="A bad part costs"
          value={costs.badPart}
          onType={(badPart) => onCosts({ badPart })}
        />
        <NumberField
          least={0}
          label="A check costs"
          value={costs.check}
          onType={(check) => onCosts({ check })}
          help="The table’s own, where left out."
        />
        <NumberField
          least={0}
          label="Starts in a part"
          value={costs.each}
          onType={(each) => onCosts({ each })}
        />
      </div>
      <p>{watch.every_says}</p>
    </details>
  );
}

/** Every check, newest first. */
function Checks(p: { recipeId: number; checks: Check[]; units: ShopUnits }) {
  const queries = useQueryClient();
  const say = useSay();
  const strike = useMutation({
    mutationFn: (body: { check_id: number; out: boolean }) =>
      answered(
        api.PUT('/api/recipes/{recipe_id}/spot-checks/struck', {
          params: { path: { recipe_id: p.recipeId } },
          body,
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['watch'] }),
  });
  return (
    <table className={styles.checks}>
      <thead>
        <tr>
          <th scope="col">Starts since</th>
          <th scope="col">Worst edge</th>
          <th scope="col">Volts</th>
          <th scope="col">Kerf, {p.units.length_unit}</th>
          <th scope="col">Dross</th>
          <th scope="col">By</th>
          <th scope="col">
            <span className="hidden-text">Strike out</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {[...p.checks].reverse().map((c) => (
          <tr key={c.id} data-struck={c.struck_out}>
            <th scope="row">{c.since_proof}</th>
            <td>{c.bevel_deg === null ? '–' : `${signed(c.bevel_deg)}°`}</td>
            <td>
              {c.arc_voltage_v?.toFixed(1) ?? '–'}
              {c.height_held && ' held'}
            </td>
            <td>{c.kerf_mm === null ? '–' : showLength(c.kerf_mm, p.units).text}</td>
            <td>{c.dross_grade === null ? '–' : DROSS_EFFORT[c.dross_grade]}</td>
            <td>
              {new Date(c.read_at).toLocaleDateString([], { dateStyle: 'short' })} {c.read_by}
            </td>
            <td>
              <button
                type="button"
                onClick={() => {
                  strike.mutate({ check_id: c.id, out: !c.struck_out });
                  say({ text: c.struck_out ? 'The check is put back.' : 'The check is struck out.' });
                }}
              >
                {c.struck_out ? 'Put back' : 'Strike out'}
              </button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const signed = (n: number): string => `${n < 0 ? '−' : '+'}${Math.abs(n).toFixed(1)}`;
