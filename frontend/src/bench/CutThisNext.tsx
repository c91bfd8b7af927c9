import Button from '@mui/material/Button';
import { lazy, Suspense, useState } from 'react';
import { Notice } from '../kit/Notice';
import { TemperBar } from '../kit/TemperBar';
import { showChange, showLength, showSpeed, type Shown, type ShopUnits } from '../kit/units';
import styles from './bench.module.css';
import { OpeningLadder } from './OpeningLadder';
import { ReadyLine } from './ReadyLine';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { recipeQuery } from '../book/queries';
import { useSay } from '../kit/undo';
import { draftKey, throwAway, type Under } from '../log/openLog';
import { LockButton } from './LockButton';
import { LockedActions } from './LockedActions';
import type { Log, Sheet } from '../log/log';
import { OwnNumbers } from './OwnNumbers';
import { PierceLines } from './PierceLine';
import { PutRight } from './PutRight';
import { ReadAgain } from './ReadAgain';
import { WaitingPieces } from './WaitingPieces';
import { PRACTISING } from '../kit/place';
import { kept, lastCut, STATUS_MARK, type Bench, type Setting } from './model';

const PieceDialog = lazy(async () => ({ default: (await import('../pieces/PieceDialog')).PieceDialog }));

type Waiting = Bench['waiting'][number];

interface Props {
  bench: Bench;
  units: ShopUnits;
  keptLog: boolean;
  /** What is shown is of before: the new advice is being worked out. */
  stale: boolean;
  refused: string | null;
  onLog: (through: Log['through'], piece?: Waiting, kind?: Sheet['kind'], under?: Under) => void;
  onSimulate: (piece?: Waiting, own?: Setting) => void;
  /** An exercise where the learner chooses each setting: no advice is shown. */
  covered: boolean;
  onReadAgain: (asked: Bench['read_again']) => void;
}

/** What to set, how it differs from the last cut, why, and the chance that it passes. */
export function CutThisNext({
  bench,
  units,
  keptLog,
  stale,
  refused,
  onLog,
  onSimulate,
  covered,
  onReadAgain,
}: Props) {
  const { trial, advice } = bench;
  if (covered)
    return (
      <section className={styles.next} aria-labelledby="job">
        <Job bench={bench} />
        <h2 className={styles.verdict}>Choose your own numbers</h2>
        <p className={styles.why}>
          The advice is covered in this exercise. What was cut so far is below, and how it came out
          beside.
        </p>
        {refused && <Notice kind="refusal">{refused}</Notice>}
        <OwnNumbers bench={bench} units={units} open onCut={(own) => onSimulate(undefined, own)} />
      </section>
    );
  return (
    <section className={styles.next} aria-labelledby="job" data-stale={stale}>
      <Job bench={bench} />
      <h2 className={styles.verdict} data-status={trial.recipe_id ? 'locked' : advice.status}>
        {headingOf(bench)}
        {trial.start_sources.some((r) => r.source.startsWith('example')) && (
          <small>Example numbers to start: use your torch’s manual.</small>
        )}
      </h2>
      {stale && (
        <p className={styles.stale} role="status">
          □ This is the advice of before. The new one is being worked out.
        </p>
      )}
      {bench.hand_off && !trial.recipe_id && (
        <Notice kind="refusal" title={bench.hand_off.title}>
          {bench.hand_off.why}
        </Notice>
      )}
      {!trial.recipe_id && <PutRight bench={bench} />}
      {bench.waiting.length > 0 && !trial.recipe_id ? (
        <p className={styles.why}>Read what is cut first: then it says what to cut next.</p>
      ) : (
        <NextSetting bench={bench} units={units} onReadAgain={onReadAgain} />
      )}
      {refused && <Notice kind="refusal">{refused}</Notice>}
      <div className={styles.stay}>
        <Actions bench={bench} units={units} keptLog={keptLog} onLog={onLog} onSimulate={onSimulate} />
      </div>
    </section>
  );
}

/** What is cut here, and to what. */
function Job({ bench: { trial } }: { bench: Bench }) {
  return (
    <>
      <header className={styles.jobHead}>
        <h1 id="job">
          {trial.plate} {trial.metal_label}
        </h1>
        <ReadyLine tableId={trial.table_id} />
      </header>
      <p className={styles.aim}>
        {trial.title && `${trial.title}: `}
        {trial.aim}
      </p>
    </>
  );
}

function headingOf({ trial, advice, heading, waiting, now }: Bench): string {
  if (trial.recipe_id) return `■ Locked as revision ${trial.recipe_revision ?? ''}`;
  if (waiting.length > 0) return 'Cut, and not yet read';
  if (now.kind === 'ladder') return 'First a coarse speed ladder';
  return `${STATUS_MARK[advice.status]}${heading}`;
}

/** What to dial, why, and what it promises. */
function NextSetting({ bench, units, onReadAgain }: Pick<Props, 'bench' | 'units' | 'onReadAgain'>) {
  const { advice, trial } = bench;
  const readFirst = bench.read_again.length > 0 && !trial.recipe_id;
  return (
    <>
      <Settings bench={bench} units={units} />
      <PierceLines bench={bench} units={units} />
      {bench.now.kind === 'ladder' && <OpeningLadder bench={bench} units={units} />}
      {readFirst && <ReadAgain bench={bench} onRead={onReadAgain} />}
      {(!readFirst || advice.status === 'square') && <Reason bench={bench} />}
      {advice.recommended && advice.status !== 'hand_off' && (
        <TemperBar chance={advice.recommended.probability_pass} label="Chance it passes" />
      )}
    </>
  );
}

function Reason({ bench }: { bench: Bench }) {
  const { why } = bench.now;
  const cuts = kept(bench).length;
  const proven = `It passed on a real square, and with ${cuts} ${cuts === 1 ? 'cut' : 'cuts'} behind it the next is 95 in 100 sure to pass.`;
  return (
    <>
      {bench.advice.status === 'square' && <p className={styles.why}>{proven}</p>}
      {why && bench.now.kind === 'cut' && <p className={styles.why}>{why}</p>}
    </>
  );
}

function Actions({
  bench,
  units,
  keptLog,
  onLog,
  onSimulate,
}: Pick<Props, 'bench' | 'units' | 'keptLog' | 'onLog' | 'onSimulate'>) {
  const { trial, advice } = bench;
  if (trial.recipe_id)
    return (
      <LockedActions
        bench={bench}
        units={units}
        recipeId={trial.recipe_id}
        program={<PieceButton bench={bench} units={units} />}
      />
    );
  if (bench.waiting.length > 0 && !keptLog) {
    return (
      <div className={styles.go}>
        <WaitingPieces
          trialId={trial.id}
          waiting={bench.waiting}
          units={units}
          onRead={(piece) =>
            trial.simulated && piece.kind === 'square' ? onSimulate(piece) : onLog(null, piece)
          }
        />
        <div className={styles.row}>
          <PieceButton bench={bench} units={units} />
        </div>
      </div>
    );
  }
  if (advice.status === 'square') {
    return (
      <div className={styles.go}>
        <LockButton bench={bench} />
        <div className={styles.row}>
          <PieceButton bench={bench} units={units} />
        </div>
      </div>
    );
  }
  if (keptLog) {
    return (
      <div className={styles.go}>
        <Button variant="contained" onClick={() => onLog('full')}>
          Go on with the half-typed log
        </Button>
        <ThrowAway trialId={trial.id} />
        <div className={styles.row}>
          <PieceButton bench={bench} units={units} />
        </div>
      </div>
    );
  }
  if (bench.now.kind === 'ladder') {
    return <LadderActions bench={bench} units={units} onLog={onLog} onSimulate={onSimulate} />;
  }
  if (PRACTISING) {
    return (
      <div className={styles.go}>
        <Button
          fullWidth
          variant={advice.status === 'hand_off' ? 'outlined' : 'contained'}
          onClick={() => onSimulate()}
        >
          Cut it
        </Button>
        <div className={styles.row}>
          <PieceButton bench={bench} units={units} />
          <OwnNumbers bench={bench} units={units} onCut={(own) => onSimulate(undefined, own)} />
        </div>
      </div>
    );
  }
  return (
    <div className={styles.go}>
      <Button
        variant={advice.status === 'hand_off' ? 'outlined' : 'contained'}
        onClick={() => onLog('full')}
      >
        It dropped: turn it over
      </Button>
      <Button variant="outlined" onClick={() => onLog('partial')}>
        Hung on
      </Button>
      <div className={styles.row}>
        <PieceButton bench={bench} units={units} />
        {trial.simulated && (
          <Button variant="outlined" onClick={() => onSimulate()}>
            Cut it on the simulated table
          </Button>
        )}
      </div>
    </div>
  );
}

/** A half-typed log that nobody will finish, from this screen or another. */
function ThrowAway({ trialId }: { trialId: number }) {
  const queries = useQueryClient();
  const say = useSay();
  const refresh = () => queries.invalidateQueries({ queryKey: draftKey(trialId) });
  return (
    <Button
      variant="outlined"
      onClick={() =>
        void throwAway(trialId).then(async (restore) => {
          await refresh();
          say({ text: 'Thrown away.', undo: () => void restore().then(refresh) });
        })
      }
    >
      Throw it away
    </Button>
  );
}

/** Before the first cut of a metal without rows: the ladder is the next thing, a square the way round. */
function LadderActions({
  bench,
  units,
  onLog,
  onSimulate,
}: Pick<Props, 'bench' | 'units' | 'onLog' | 'onSimulate'>) {
  return (
    <div className={styles.go}>
      <Button variant="contained" onClick={() => onLog(null, undefined, 'strip_ladder')}>
        Log the strips
      </Button>
      <PieceButton bench={bench} units={units} />
      <div className={styles.row}>
        <Button variant="text" onClick={() => onLog('full')}>
          Skip it: log a square
        </Button>
        {bench.trial.simulated && (
          <Button variant="text" onClick={() => onSimulate()}>
            A simulated square
          </Button>
        )}
      </div>
    </div>
  );
}

function PieceButton({ bench, units }: { bench: Bench; units: ShopUnits }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button variant="outlined" onClick={() => setOpen(true)}>
        Program
      </Button>
      {open && (
        <Suspense fallback={null}>
          <PieceDialog
            trialId={bench.trial.id}
            tableId={bench.trial.table_id}
            revision={bench.trial.revision}
            begin={bench.now.kind === 'ladder' ? 'strip_ladder' : 'square'}
            locked={bench.trial.recipe_id !== null}
            units={units}
            onClose={() => setOpen(false)}
          />
        </Suspense>
      )}
    </>
  );
}

function Settings({ bench, units }: { bench: Bench; units: ShopUnits }) {
  const now = bench.now.setting;
  const { was } = bench.now; // of the cut that the reason speaks of, which of a ladder is not the last
  const { start, recipe_id: recipeId } = bench.trial;
  const recipe = useQuery({ ...recipeQuery(recipeId ?? 0), enabled: recipeId !== null });
  const rest = recipe.data?.recipe.setting ?? start; // a recipe's pierce and kerf are its own
  const speed = (mmMin: number) => showSpeed(mmMin, units);
  const height = (mm: number) => showLength(mm, units);
  return (
    <dl className={styles.settings}>
      <Dial
        name="Speed"
        shown={speed(now.speed_mm_min)}
        last={was ? speed(was.speed_mm_min) : null}
        change={was ? speed(now.speed_mm_min - was.speed_mm_min) : null}
        from={cameFrom(bench, speed(start.speed_mm_min))}
      />
      <Volts bench={bench} />
      <Dial
        name="Cut height"
        shown={height(now.cut_height_mm)}
        last={was ? height(was.cut_height_mm) : null}
        change={was ? height(now.cut_height_mm - was.cut_height_mm) : null}
        from={cameFrom(bench, height(start.cut_height_mm))}
      />
      <div className={styles.small}>
        <dt>Pierce</dt>
        <dd>
          <span className="number">{height(rest.pierce_height_mm).text}</span> {units.length_unit}{' '}
          <span className="number">{rest.pierce_delay_s.toFixed(2)}</span> s
        </dd>
        <dd className={styles.change}>
          kerf {height(rest.kerf_mm).text} {units.length_unit}
        </dd>
      </div>
    </dl>
  );
}

/** The volts to be seen at the height, beside those of the last cut. */
function Volts({ bench }: { bench: Bench }) {
  const volts = bench.now.arc_voltage_v ?? null;
  const last = lastCut(bench)?.arc_voltage_v ?? null;
  const change = last !== null && volts !== null ? volts - last : null;
  return (
    <Dial
      name="Arc voltage"
      shown={volts === null ? null : { text: volts.toFixed(1), unit: 'V' }}
      missing="Not known yet: cut at fixed height and note it."
      last={last === null ? null : { text: last.toFixed(1), unit: 'V' }}
      change={change === null ? null : { text: signed(change), unit: 'V' }}
      from={`To be seen at this height, not to be dialled while height control is off. ${bench.per_height}.`}
    />
  );
}

/** Where a number came from: the cuts that it is tuned from, and what it began with. */
function cameFrom(bench: Bench, start: Shown): string {
  const cuts = kept(bench).length;
  const origin = originOf(bench);
  return cuts === 0 ? origin : `Tuned from ${cuts} cuts; started at ${start.text}. ${origin}`;
}

const signed = (value: number): string => `${value < 0 ? '\u2212' : ''}${Math.abs(value).toFixed(1)}`;

function originOf(bench: Bench): string {
  const rows = bench.trial.start_sources.map((r) => `${r.plate} (${r.source})`);
  if (bench.trial.start_how === 'typed' || rows.length === 0) return 'Starting number typed in.';
  if (bench.trial.start_how === 'row') return `From the Book's row at ${rows[0] ?? ''}.`;
  if (bench.trial.start_how === 'interpolated')
    return `Between the Book's rows at ${rows.join(' and ')}.`;
  if (bench.trial.start_how === 'extended')
    return `Beyond the Book's rows: carried on from ${rows.join(' and ')}.`;
  if (bench.trial.start_how === 'recipe') return `From the ${rows[0] ?? 'recipe'}.`;
  return `No rows for this metal: from mild steel at ${rows.join(' and ')}.`;
}

interface DialProps {
  name: string;
  shown: Shown | null;
  missing?: string;
  last: Shown | null;
  change: Shown | null;
  from: string;
}

/** One number to dial. Tap it to see where it came from. */
function Dial({ name, shown, missing, last, change, from }: DialProps) {
  const [open, setOpen] = useState(false);
  const unchanged = change !== null && Number(change.text.replace('\u2212', '-')) === 0;
  return (
    <div>
      <dt>
        <button
          type="button"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
          aria-label={`${name}: where it came from`}
        >
          {name}
        </button>
      </dt>
      <dd>
        {shown ? (
          <>
            <span className={`number ${styles.big}`}>{shown.text}</span> {shown.unit}
          </>
        ) : (
          <span className={styles.missing}>{missing}</span>
        )}
      </dd>
      <dd className={styles.change}>
        {change && (unchanged ? 'as before' : <strong>{showChange(change)}</strong>)}
        {last && !unchanged && <span>was {last.text}</span>}
      </dd>
      {open && <dd className={styles.from}>{from}</dd>}
    </div>
  );
}
