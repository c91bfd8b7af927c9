import { lazy, Suspense, useState } from 'react';
import { Link } from 'react-router';
import { Notice } from '../kit/Notice';
import type { ShopUnits } from '../kit/units';
import styles from './bench.module.css';
import { AfterSquare, type OnLog } from './AfterSquare';
import { ChanceMap } from './ChanceMap';
import { EarlierTrials } from './EarlierTrials';
import type { Bench, Setting } from './model';

const WindowDialog = lazy(async () => ({ default: (await import('./WindowDialog')).WindowDialog }));

/** The setting that a finding speaks of. */
const fasterOf = ({ numbers }: Bench['findings'][number]): Setting => ({
  speed_mm_min: numbers?.speed_mm_min ?? 0,
  cut_height_mm: numbers?.cut_height_mm ?? 0,
});

/** The job of a trial, for the next one. */
const jobOf = ({ trial }: Bench): string =>
  new URLSearchParams({
    metal: trial.metal,
    thickness: String(trial.thickness_mm),
    named: trial.torch_set.name,
    gas: trial.torch_set.gas,
  }).toString();

/** The window, what is still to be proven, and what else the cuts say. */
export function Evidence({
  bench,
  units,
  onCutAt,
  onLog,
}: {
  bench: Bench;
  units: ShopUnits;
  onCutAt: ((at: Setting) => void) | null;
  onLog: OnLog;
}) {
  const [asked, setAsked] = useState<Setting | null>(null);
  return (
    <section className={styles.evidence} aria-label="Evidence">
      <ChanceMap bench={bench} units={units} onAsk={setAsked} />
      {bench.advice.status === 'square' && bench.waiting.length === 0 && (
        <AfterSquare
          trialId={bench.trial.id}
          again={bench.trial.recipe_id ? jobOf(bench) : undefined}
          onLog={onLog}
        />
      )}
      {bench.findings.map((f) => (
        <Notice key={f.code} kind="note" title={f.title}>
          {f.why}
          {f.code === 'jet_lean' && (
            <Link to="/torch/jet" className={styles.inNotice}>
              The turns that set it upright
            </Link>
          )}
          {f.code === 'faster_possible' && (
            <>
              {bench.worth && ` ${bench.worth}`}
              <button type="button" className={styles.inNotice} onClick={() => setAsked(fasterOf(f))}>
                Look at it, or cut it
              </button>
            </>
          )}
        </Notice>
      ))}
      <h2>Before it may be called square</h2>
      <ul className={styles.proofs}>
        {bench.proofs.map((p) => (
          <li key={p.text} data-done={p.done}>
            <span className="hidden-text">{p.done ? 'Done: ' : 'Open: '}</span>
            {p.text}
          </li>
        ))}
      </ul>
      <EarlierTrials bench={bench} />
      <p className={styles.more}>
        <Link to={`/trials/${bench.trial.id}`}>All cuts and readings</Link>
      </p>
      {asked && (
        <Suspense fallback={null}>
          <WindowDialog
            bench={bench}
            units={units}
            begin={asked}
            onCutAt={onCutAt}
            onClose={() => setAsked(null)}
          />
        </Suspense>
      )}
    </section>
  );
}
