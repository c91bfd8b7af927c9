import { at } from '../kit/place';
import Button from '@mui/material/Button';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useState } from 'react';
import { useLocation, useNavigate, useParams } from 'react-router';
import type { Log } from '../log/log';
import { useCorrect } from '../log/openLog';
import type { Bench } from '../kit/client';
import { answered, api } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { shopQuery, useBench } from '../kit/queries';
import { useSettings } from '../kit/settings';
import styles from './trial.module.css';
import { CheckedBefore } from './CheckedBefore';
import { CutEntry } from './CutEntry';
import { Ledger } from './Ledger';
import { SHOWN, type ShowWhich } from './ledger';
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
  const [show, setShow] = useState<ShowWhich>('all');
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
      {data.cuts.length > 0 && <Ledger bench={data} units={units} show={show} onShow={setShow} />}
      <ol className={styles.cuts}>
        {[...data.cuts]
          .filter(SHOWN[show].holds)
          .reverse()
          .map((c) => (
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
      <a
        className={styles.linkButton}
        href={at(`/api/trials/${trial.id}/sheet.pdf`)}
        target="_blank"
        rel="noreferrer"
      >
        One page
      </a>
      <a className={styles.linkButton} href={at(`/api/trials/${trial.id}/campaign`)} download>
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
