import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useState } from 'react';
import { useLocation, useNavigate, useParams } from 'react-router';
import type { Log } from '../log/log';
import { useCorrect } from '../log/openLog';
import type { Bench, Cut } from '../bench/model';
import { answered, api } from '../kit/client';
import { KerfSection } from '../kit/KerfSection';
import { Notice, refusalText } from '../kit/Notice';
import { revisionQuery, shopQuery, useBench } from '../kit/queries';
import { useSettings } from '../kit/settings';
import { useSay } from '../kit/undo';
import { showDegrees, showLength, showSpeed, type ShopUnits } from '../kit/units';
import styles from './trial.module.css';
import { CheckedBefore } from './CheckedBefore';
import { standing } from './TrialsPage';

const LogSheet = lazy(async () => ({ default: (await import('../log/LogSheet')).LogSheet }));
const TargetDialog = lazy(async () => ({ default: (await import('./TargetDialog')).TargetDialog }));
const BevelChart = lazy(async () => ({ default: (await import('./BevelChart')).BevelChart }));

/** One trial with every cut and reading, to correct, strike out, and save to a file. */
export function TrialPage() {
  const { trialId } = useParams();
  const bench = useBench(Number(trialId));
  const shop = useQuery(shopQuery);
  const [log, setLog] = useState<Log | null>(null);
  const { correct, refused } = useCorrect(bench.data?.trial, setLog);
  const { hash } = useLocation();
  const ready = bench.data !== undefined;
  useEffect(() => {
    if (ready && hash) document.getElementById(hash.slice(1))?.scrollIntoView({ block: 'start' });
  }, [ready, hash]);
  if (bench.isError && !bench.data) return <Notice kind="refusal">{refusalText(bench.error)}</Notice>;
  if (!bench.data || !shop.data) return null;
  const data = bench.data;
  const units = shop.data;
  return (
    <main className={styles.trialPage}>
      <Head bench={data} />
      {data.cuts.length > 1 && (
        <Suspense fallback={<div className={styles.chart} />}>
          <BevelChart bench={data} />
        </Suspense>
      )}
      {data.cuts.length === 0 && (
        <p className={styles.none}>No cut yet: the first piece waits on the Bench.</p>
      )}
      <ol className={styles.cuts}>
        {[...data.cuts].reverse().map((c) => (
          <CutEntry
            key={c.id}
            cut={c}
            bench={data}
            units={units}
            onCorrect={() => correct({ cut: c })}
          />
        ))}
      </ol>
      {refused && <Notice kind="refusal">{refused}</Notice>}
      <CheckedBefore trialId={data.trial.id} />
      {log && (
        <Suspense fallback={null}>
          <LogSheet bench={data} units={units} start={log} onClose={() => setLog(null)} />
        </Suspense>
      )}
    </main>
  );
}

function Head({ bench }: { bench: Bench }) {
  const { trial } = bench;
  const [changing, setChanging] = useState(false);
  const navigate = useNavigate();
  const queries = useQueryClient();
  const { setTableId } = useSettings();
  const toBench = useMutation({
    mutationFn: () =>
      answered(api.PUT('/api/trials/{trial_id}/bench', { params: { path: { trial_id: trial.id } } })),
    onSuccess: async () => {
      setTableId(trial.table_id);
      await queries.invalidateQueries();
      await navigate('/bench');
    },
  });
  const state = standing(trial, bench.cuts.length);
  return (
    <header className={styles.head}>
      <div>
        <h1>
          {trial.plate} {trial.metal_label}
          {trial.title && `, ${trial.title}`}
        </h1>
        <p className="soft">
          {state.mark} {state.text}. {trial.torch_set.name} on the {trial.table}; square within{' '}
          {trial.target.bevel_deg.toFixed(1)}° on{' '}
          {trial.target.sides === 'both' ? 'both sides' : `the ${trial.good_side}`}; opened{' '}
          {new Date(trial.opened_at).toLocaleDateString([], { dateStyle: 'medium' })}
          {trial.opened_by && ` by ${trial.opened_by}`}.
        </p>
      </div>
      <a className={styles.linkButton} href={`/api/trials/${trial.id}/campaign`} download>
        Save to a file
      </a>
      {!trial.recipe_id && (
        <Button variant="outlined" onClick={() => setChanging(true)}>
          Target and limits
        </Button>
      )}
      {changing && (
        <Suspense fallback={null}>
          <TargetDialog trial={trial} onClose={() => setChanging(false)} />
        </Suspense>
      )}
      {trial.recipe_id ? (
        <Button
          variant="contained"
          onClick={() => void navigate(`/book/recipes/${trial.recipe_id ?? ''}`)}
        >
          See the recipe
        </Button>
      ) : (
        <Button variant="contained" onClick={() => toBench.mutate()}>
          {trial.on_bench ? 'To the Bench' : 'Put on the Bench'}
        </Button>
      )}
    </header>
  );
}

function CutEntry({
  cut,
  bench,
  units,
  onCorrect,
}: {
  cut: Cut;
  bench: Bench;
  units: ShopUnits;
  onCorrect: () => void;
}) {
  const { trial } = bench;
  const queries = useQueryClient();
  const say = useSay();
  const strike = useMutation({
    mutationFn: (given: { version: number; out: boolean }) =>
      answered(
        api.PUT('/api/trials/{trial_id}/cuts/{cut_id}/struck', {
          params: { path: { trial_id: trial.id, cut_id: cut.id } },
          body: given,
        }),
      ),
    onSuccess: async (changed) => {
      await queries.invalidateQueries({ queryKey: revisionQuery(trial.id).queryKey });
      say({
        text: changed.struck_out
          ? `Cut ${changed.number} is struck out of the evidence.`
          : `Cut ${changed.number} counts again.`,
        undo: () => strike.mutate({ version: changed.version, out: !changed.struck_out }),
      });
    },
  });
  return (
    <li id={`cut-${cut.number}`} data-struck={cut.struck_out} className={styles.cut}>
      <div>
        <KerfSection
          size="thumb"
          thicknessMm={trial.thickness_mm}
          kerfMm={cut.kerf_mm ?? trial.start.kerf_mm}
          leftDeg={cut.bevel_left_deg ?? null}
          rightDeg={cut.bevel_right_deg ?? null}
          goodSide={trial.good_side}
          dross={cut.dross ?? null}
          through={cut.through ?? null}
        />
        <strong>
          Cut {cut.number} {cut.struck_out && '(struck out)'}
        </strong>
        <span className="soft">
          {new Date(cut.logged_at).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' })}
          {cut.logged_by && `, ${cut.logged_by}`}
        </span>
      </div>
      <dl className={styles.readings}>
        <Reading name="Speed" value={`${showSpeed(cut.speed_mm_min, units).text} ${units.speed_unit}`} />
        <Reading
          name="Height"
          value={`${showLength(cut.cut_height_mm, units).text} ${units.length_unit}`}
        />
        <Reading
          name="Volts"
          value={cut.arc_voltage_v ? `${cut.arc_voltage_v.toFixed(1)} V` : 'not read'}
        />
        <Reading
          name="Through"
          value={bench.log_sheet.through.find((t) => t.value === cut.through)?.label ?? 'not noted'}
        />
        <Reading name="Underside" value={cut.underside} />
        <Reading name="Worst kept" value={showDegrees(cut.worst_kept_deg)} />
        {cut.note && <Reading name="Note" value={cut.note} />}
        {cut.edges.map((e) => (
          <Reading
            key={e.id}
            name={`${e.side} of travel ${e.heading_deg}°`}
            value={`${showDegrees(e.bevel_deg)} ± ${e.u_deg.toFixed(1)}`}
          />
        ))}
      </dl>
      {!trial.recipe_id && (
        <div className={styles.acts}>
          <Button variant="outlined" onClick={onCorrect}>
            Correct
          </Button>
          <Button
            variant="text"
            onClick={() => strike.mutate({ version: cut.version, out: !cut.struck_out })}
          >
            {cut.struck_out ? 'Count it again' : 'Strike out'}
          </Button>
        </div>
      )}
      {strike.isError && <Notice kind="refusal">{refusalText(strike.error)}</Notice>}
    </li>
  );
}

function Reading({ name, value }: { name: string; value: string }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>{value}</dd>
    </div>
  );
}
