import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useEffect, useState } from 'react';
import { Notice, refusalText } from '../kit/Notice';
import { LiveStrip } from '../height/LiveStrip';
import { PRACTISING } from '../kit/place';
import { runHere, runQuery } from '../practice/queries';
import { shopQuery, tablesQuery, useBench } from '../kit/queries';
import { useSettings } from '../kit/settings';
import { TrimDue } from '../torch/TrimLine';
import styles from './bench.module.css';
import { CutRibbon } from './CutRibbon';
import { CutThisNext } from './CutThisNext';
import { Evidence } from './Evidence';
import { EndOn } from './EndOn';
import { FirstSteps } from './FirstSteps';
import type { Log } from '../log/log';
import { useCorrect, useOpenLog } from '../log/openLog';

const loadLogSheet = async () => ({ default: (await import('../log/LogSheet')).LogSheet });
const LogSheet = lazy(loadLogSheet);

/** What is on this table now, the next cut, and logging it. */
export function BenchPage() {
  const tables = useQuery(tablesQuery);
  const { tableId } = useSettings();
  if (tables.isError && !tables.data)
    return <Apart title="No answer">{refusalText(tables.error)}</Apart>;
  if (!tables.data) return null;
  const table = tables.data.find((t) => t.id === tableId) ?? tables.data[0];
  if (!table) return <FirstSteps title="Four steps to the first cut" />;
  return (
    <div className={styles.withStrip}>
      <LiveStrip tableId={table.id} />
      {table.bench_trial_id && <TrimDue trialId={table.bench_trial_id} />}
      <main className={styles.bench}>
        {table.bench_trial_id ? (
          <BenchOfTrial key={table.bench_trial_id} trialId={table.bench_trial_id} />
        ) : (
          <FirstSteps title={`Nothing on the ${table.name}`} />
        )}
      </main>
    </div>
  );
}

function Apart({ title, children }: { title: string; children: string }) {
  return (
    <div className={styles.apart}>
      <h1>{title}</h1>
      <p>{children}</p>
    </div>
  );
}

/** Whether this is an exercise whose learner chooses each setting. */
function useCovered(): boolean {
  const id = PRACTISING ? runHere() : null;
  const run = useQuery({ ...runQuery(id ?? 0), enabled: id !== null });
  return run.data?.covered ?? false;
}

function BenchOfTrial({ trialId }: { trialId: number }) {
  const bench = useBench(trialId);
  const shop = useQuery(shopQuery);
  const [log, setLog] = useState<Log | null>(null);
  const { open, openAt, kept, refused, simulate } = useOpenLog(trialId, bench.data, setLog);
  const { correct, refused: notOpened } = useCorrect(bench.data?.trial, setLog);
  useEffect(() => {
    void loadLogSheet(); // at hand before it is asked for
  }, []);
  const covered = useCovered();
  const waits = bench.data?.waiting[0];
  useEffect(() => {
    const pressed = (e: KeyboardEvent) => {
      const typing =
        e.target instanceof HTMLElement && e.target.closest('input, textarea, [role=dialog]');
      if (e.key !== 'l' || typing || e.ctrlKey || e.metaKey) return;
      if (waits) open(null, waits);
      else open('full');
    };
    window.addEventListener('keydown', pressed);
    return () => window.removeEventListener('keydown', pressed);
  }, [open, waits]);
  if (bench.isError)
    return (
      <Notice kind="refusal" title="This trial cannot be shown">
        {refusalText(bench.error)}
      </Notice>
    );
  if (!bench.data || !shop.data) return <div className={styles.waiting} aria-busy="true" />;
  return (
    <>
      <div className={styles.columns}>
        <CutThisNext
          bench={bench.data}
          units={shop.data}
          keptLog={kept}
          stale={bench.isPlaceholderData}
          refused={refused ?? notOpened}
          onLog={open}
          onSimulate={simulate}
          covered={covered}
          onReadAgain={(again) => {
            const cut = bench.data.cuts.find((c) => c.id === again[0]?.cut_id);
            if (cut) correct({ cut, again });
          }}
        />
        <EndOn bench={bench.data} units={shop.data} />
        {!covered && <Evidence bench={bench.data} units={shop.data} onCutAt={openAt} onLog={open} />}
      </div>
      <CutRibbon bench={bench.data} units={shop.data} />
      {log && (
        <Suspense fallback={null}>
          <LogSheet bench={bench.data} units={shop.data} start={log} onClose={() => setLog(null)} />
        </Suspense>
      )}
    </>
  );
}
