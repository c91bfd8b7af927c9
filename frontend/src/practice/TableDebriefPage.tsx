import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useMutation, useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { ChanceField, CutMark, type Frame, type Place } from '../kit/ChanceField';
import { answered, ofShop, type Schema } from '../kit/client';
import { Notice, refusalText } from '../kit/Notice';
import { shopQuery } from '../kit/queries';
import { showDegrees, showLength, showSpeed, type ShopUnits } from '../kit/units';
import { ArcBeside } from './ArcBeside';
import styles from './practice.module.css';
import { counted, goTo, type TableStep } from './queries';

const FRAME: Frame = { width: 560, height: 300, mark: 12 };

/** An exercise at a table that is over: the truth, and both ways to it. */
export function TableDebriefPage() {
  const { runId = '' } = useParams();
  const path = { run_id: Number(runId) };
  const shop = useQuery(shopQuery);
  const found = useQuery({
    queryKey: ['practice debrief', path.run_id],
    queryFn: () => answered(ofShop.GET('/api/practice/tables/{run_id}/debrief', { params: { path } })),
    retry: false,
  });
  const masters = useQuery({
    queryKey: ['practice masters', path.run_id],
    queryFn: () => answered(ofShop.GET('/api/practice/tables/{run_id}/masters', { params: { path } })),
    enabled: found.isSuccess,
    staleTime: Infinity,
  });
  const again = useMutation({
    mutationFn: (code: string) =>
      answered(ofShop.POST('/api/practice/tables', { body: { case: code } })),
    onSuccess: goTo,
  });
  if (found.isError)
    return (
      <main className={styles.practice}>
        <h1>Practice</h1>
        <Notice kind="refusal">{refusalText(found.error)}</Notice>
        <Link to="/practice">All exercises</Link>
      </main>
    );
  if (!found.data || !shop.data)
    return (
      <main className={styles.practice} aria-busy="true">
        <p>Working out what each cut told…</p>
        <LinearProgress />
      </main>
    );
  const d = found.data;
  return (
    <main className={styles.practice}>
      <header>
        <p className={styles.marked}>Practice, not a real table</p>
        <h1>{d.run.title}</h1>
        <Link to="/practice">All exercises</Link>
      </header>
      <section aria-label="The truth" className={styles.debrief}>
        <h2 data-passed={d.run.passed}>{d.run.passed ? '✓ Passed' : 'Not passed'}</h2>
        <p className={styles.sentence}>{d.sentence}</p>
        <div className={styles.columns}>
          {d.arc && <ArcBeside arc={d.arc} units={shop.data} />}
          {d.chances && d.square_at && (
            <figure className={styles.truthMap}>
              <figcaption>How often it really passes, with what was wrong put right</figcaption>
              <TruthMap
                chances={d.chances}
                squareAt={d.square_at}
                mine={d.mine}
                masters={masters.data?.steps ?? []}
                units={shop.data}
              />
              <p className={styles.key}>
                <b>●</b> yours <b>○</b> a master’s <b>✚</b> best of all. Straw never passes, blue always.
              </p>
            </figure>
          )}
          <div className={styles.truth}>
            <h3>What was hidden</h3>
            <p>
              <strong>{d.hidden}</strong> {d.cured_by}
            </p>
            <ul>
              {d.truth.map((t) => (
                <li key={t}>{t}</li>
              ))}
            </ul>
            {d.teaches && <p>{d.teaches}</p>}
            <p>
              You said: <strong>{d.said}.</strong>
            </p>
          </div>
        </div>
        <div className={styles.ways}>
          <Way title={`Your way, ${counted(d.run, d.run.cuts)}`} steps={d.mine} units={shop.data} />
          {masters.data ? (
            <Way
              title={`A master’s, ${counted(d.run, masters.data.cuts)}`}
              steps={masters.data.steps}
              units={shop.data}
              says={masters.data.said}
            />
          ) : masters.isError ? (
            <Notice kind="refusal">{refusalText(masters.error)}</Notice>
          ) : (
            <div>
              <p>A master takes the same exercise…</p>
              <LinearProgress />
            </div>
          )}
        </div>
        <Button variant="outlined" onClick={() => again.mutate(d.run.case)}>
          Take it again
        </Button>
      </section>
    </main>
  );
}

function TruthMap(p: {
  chances: Schema['ChanceMap'];
  squareAt: Schema['Setting'];
  mine: readonly TableStep[];
  masters: readonly TableStep[];
  units: ShopUnits;
}) {
  return (
    <ChanceField
      map={p.chances}
      units={p.units}
      frame={FRAME}
      label="How often it really passes over speed and height, with the cuts of both ways; the lists below have the figures."
    >
      {(place) => (
        <>
          <Path steps={p.masters} place={place} open />
          <Path steps={p.mine} place={place} />
          <Best at={place(p.squareAt)} />
        </>
      )}
    </ChanceField>
  );
}

/** Cuts in their order; a master's are open marks. */
function Path(p: {
  steps: readonly TableStep[];
  place: (at: { speed_mm_min: number; cut_height_mm: number }) => Place;
  open?: boolean;
}) {
  const cuts = p.steps.flatMap((s) => (s.setting ? [p.place(s.setting)] : []));
  const line = cuts.map(([x, y]) => `${x},${y}`).join(' ');
  const dash = p.open ? { strokeDasharray: '5 4' } : {};
  return (
    <g>
      <polyline points={line} fill="none" stroke="var(--chalk)" strokeWidth={4} opacity={0.8} />
      <polyline points={line} fill="none" stroke="var(--rail)" strokeWidth={1.8} {...dash} />
      {cuts.map((at, i) => (
        <CutMark key={i} at={at} mark={FRAME.mark} text={i + 1} open={p.open ?? false} />
      ))}
    </g>
  );
}

function Best({ at: [x, y] }: { at: Place }) {
  const d = `M${x - 9} ${y}H${x + 9}M${x} ${y - 9}V${y + 9}`;
  return (
    <g fill="none">
      <path d={d} stroke="var(--rail)" strokeWidth={7} />
      <path d={d} stroke="var(--chalk)" strokeWidth={3} />
    </g>
  );
}

function Way(p: { title: string; steps: readonly TableStep[]; units: ShopUnits; says?: string }) {
  return (
    <section aria-label={p.title}>
      <h3>{p.title}</h3>
      {p.steps.length === 0 && <p className="soft">Nothing was cut or run.</p>}
      <ol className={styles.cuts}>
        {p.steps.map((s, i) =>
          s.setting ? (
            <li key={i}>
              <b className="number">{p.steps.slice(0, i + 1).filter((c) => c.setting).length}</b>
              {s.done ? (
                <span>{s.done}</span>
              ) : (
                <span>
                  {showSpeed(s.setting.speed_mm_min, p.units).text} {p.units.speed_unit},{' '}
                  {showLength(s.setting.cut_height_mm, p.units).text} {p.units.length_unit}
                  {s.worst_deg !== null && <>, worst edge {showDegrees(s.worst_deg)}</>}
                  <small>{told(s)}</small>
                </span>
              )}
            </li>
          ) : (
            <li key={i} data-done="true">
              <b>→</b>
              <span>{s.done}</span>
            </li>
          ),
        )}
      </ol>
      {p.says && (
        <p>
          Says: <strong>{p.says}.</strong>
        </p>
      )}
    </section>
  );
}

const in100 = (chance: number): string => `${Math.round(100 * chance)} in 100`;

/** What a cut was worth: how often it passes there, and how often at what was best known after it. */
function told(step: TableStep): string {
  const here = step.chance === null ? '' : `passes there ${in100(step.chance)}`;
  if (step.known === null) return `${here}; after it, no setting was worth trying`;
  return `${here}; at the best known after it ${in100(step.known)}`;
}
