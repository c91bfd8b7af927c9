import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { Link, useOutletContext } from 'react-router';
import type { Table } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { useUnits } from '../kit/queries';
import { Collided } from './Collided';
import { Counting } from './Counting';
import { PartDetail } from './PartDetail';
import { PartDrawing } from './PartDrawing';
import styles from './parts.module.css';
import { partsQuery, startsLeft, VERDICT_SIGNS, type Part, type Parts } from './queries';
import { Suspects } from './Suspects';
import { Tray } from './Tray';
import { TrimLine } from './TrimLine';

const InspectDialog = lazy(async () => ({ default: (await import('./InspectDialog')).InspectDialog }));

/** The torch in parts: touch the worn one to act on it. */
export function PartsPage() {
  const table = useOutletContext<Table>();
  const parts = useQuery(partsQuery(table.id));
  if (parts.isError && !parts.data) return <Notice kind="refusal">{refusalText(parts.error)}</Notice>;
  if (!parts.data) return <main className={styles.parts} aria-busy="true" />;
  return <Shown table={table} parts={parts.data} />;
}

function Shown({ table, parts }: { table: Table; parts: Parts }) {
  const [chosen, setChosen] = useState<Part['part']>('electrode');
  const [looking, setLooking] = useState(false);
  const units = useUnits();
  const part = parts.fitted.find((p) => p.part === chosen) ?? parts.fitted[0];
  if (!part) return null;
  return (
    <main className={styles.parts}>
      <header className={styles.head}>
        <h1>
          {parts.torch_set ?? 'The torch'} on the {parts.table}
        </h1>
        <p>
          <b className="number">{startsLeft(parts.forecast.left)}</b> starts left in the electrode
        </p>
      </header>
      {parts.torch_set_id === null && (
        <Notice kind="note">
          No torch set is noted for this table: say in the header what is fitted, and its parts are kept
          count of by set.
        </Notice>
      )}
      {parts.collided_at && <Collided steps={parts.after_a_collision} />}
      {parts.trim && parts.trim.held === 'fixed' && parts.trim.told_v !== null && (
        <TrimLine trim={parts.trim} />
      )}
      <div className={styles.columns}>
        <ol
          className={styles.section}
          aria-label="The torch in section, in the order in which parts go in"
        >
          {parts.fitted.map((p) => (
            <li key={p.part}>
              <button
                type="button"
                aria-pressed={p.part === part.part}
                onClick={() => setChosen(p.part)}
              >
                <PartDrawing part={p.part} pit={p.part === 'electrode' ? parts.forecast.pit_mm : null} />
                <span>
                  <strong>{p.word}</strong>
                  <small>{p.goes_in === 'push' ? 'pushed in' : 'screwed in'}</small>
                </span>
                <span className={styles.count}>
                  <b className="number">{p.counts.starts}</b> starts
                  <small data-verdict={p.verdict}>
                    {VERDICT_SIGNS[p.verdict]} {p.verdict_word}
                  </small>
                </span>
              </button>
            </li>
          ))}
        </ol>
        <PartDetail
          key={part.id}
          table={table}
          parts={parts}
          part={part}
          units={units}
          onLook={() => setLooking(true)}
        />
        <aside className={styles.aside}>
          <Tray table={table} parts={parts} />
          <Suspects suspects={parts.suspects} />
          <Cost costs={parts.costs} />
          <Counting table={table} parts={parts} />
        </aside>
      </div>
      {looking && (
        <Suspense fallback={null}>
          <InspectDialog
            part={part}
            beforeHands={parts.before_hands}
            units={units}
            onClose={() => setLooking(false)}
          />
        </Suspense>
      )}
    </main>
  );
}

/** What a start costs, and what a habit did. */
function Cost({ costs }: { costs: Parts['costs'] }) {
  const money = (n: number) => (n >= 1 ? n.toFixed(2) : n.toFixed(3));
  return (
    <section aria-labelledby="cost">
      <h2 id="cost">What it costs</h2>
      {costs.per_start !== null ? (
        <dl className={styles.money}>
          <div>
            <dt>a start</dt>
            <dd className="number">{money(costs.per_start)}</dd>
          </div>
          {costs.per_run !== null && (
            <div>
              <dt>{costs.run_word}</dt>
              <dd className="number">{money(costs.per_run)}</dd>
            </div>
          )}
          {costs.per_ending !== null && (
            <div>
              <dt>an ending off the plate</dt>
              <dd className="number">{money(costs.per_ending)}</dd>
            </div>
          )}
        </dl>
      ) : (
        <p>{costs.needs}</p>
      )}
      {costs.habit_says && <p>{costs.habit_says}</p>}
      <Link to="/torch/shelf">The shelf</Link>
    </section>
  );
}
