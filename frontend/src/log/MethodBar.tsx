import { useMutation } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { answered, api } from '../kit/client';
import { refusalText } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import { useStillReading } from '../kit/reading';
import { showDegrees, type ShopUnits } from '../kit/units';
import { methodOf, type Log } from './log';
import { take } from './typing';
import styles from './log.module.css';

/** What is in the hand to measure with, and whether it can settle the target here: said before it is used. */
export function MethodBar({ log, change }: { log: Log; change: (to: Log) => void }) {
  const now = methodOf(log);
  return (
    <div className={styles.method}>
      <label>
        Read with
        <select
          value={now?.name}
          onChange={(e) => change({ ...log, method: e.target.value })}
          aria-describedby="method-says"
        >
          {log.sheet.methods.map((m) => (
            <option key={m.name} value={m.name}>
              {m.name}, ±{(2 * m.u_deg).toFixed(1)}°
            </option>
          ))}
        </select>
      </label>
      <p id="method-says" data-coarse={now ? !now.settles : false} hidden={now?.settles ?? true}>
        {now?.says}
      </p>
    </div>
  );
}

const AT_TOP = ['Width at the top', 'Width at the bottom'] as const;
const GAP = ['Gap', 'Depth it was read over'] as const;

/** Two lengths that a bevel is worked out from, in the place of the keypad. */
export function Lengths({
  log,
  trialId,
  units,
  label,
  change,
}: {
  log: Log;
  trialId: number;
  units: ShopUnits;
  label: string;
  change: (to: Log) => void;
}) {
  const now = methodOf(log);
  const feeler = now?.method === 'square_and_feeler';
  const [first, setFirst] = useState<number | null>(null);
  const [second, setSecond] = useState<number | null>(null);
  const [undercut, setUndercut] = useState(false);
  const [times, setTimes] = useState(0);
  const done = useRef(false); // both are typed, and the last is still being read
  const reading = useStillReading();
  const worked = useMutation({
    mutationFn: () =>
      answered(
        api.GET('/api/trials/{trial_id}/bevel', {
          params: {
            path: { trial_id: trialId },
            query: {
              instrument: now?.name ?? '',
              first_mm: first ?? 0,
              second_mm: second ?? 0,
              undercut,
            },
          },
        }),
      ),
    onSuccess: (bevel) => {
      change(take(log, bevel));
      setFirst(null);
      setSecond(null);
      setTimes(times + 1);
    },
  });
  const ready = first !== null && second !== null && !reading;
  const workOut = worked.mutate;
  useEffect(() => {
    if (!done.current || !ready) return;
    done.current = false;
    workOut();
  }, [ready, workOut]);
  const names = feeler ? GAP : AT_TOP;
  return (
    <form
      key={times}
      className={styles.lengths}
      onSubmit={(e) => {
        e.preventDefault();
        // A calliper on a cable ends each number with Enter: the next field, then the bevel.
        const empty = [...e.currentTarget.querySelectorAll('input')].find((i) => i.value === '');
        if (empty) empty.focus();
        else if (ready) workOut();
        else done.current = true;
      }}
    >
      <p className={styles.reading}>
        <span>{label}</span>
        <output className="number">{showDegrees(null)}</output>
        <span>{now?.reads}</span>
      </p>
      <QuantityField label={names[0]} quantity="length" unit={units.length_unit} onRead={setFirst} />
      <QuantityField label={names[1]} quantity="length" unit={units.length_unit} onRead={setSecond} />
      {feeler && (
        <div className={styles.signs} role="group" aria-label="Which end gapes">
          {[false, true].map((under) => (
            <button
              key={String(under)}
              type="button"
              aria-pressed={undercut === under}
              onClick={() => setUndercut(under)}
            >
              {under ? 'Gapes at the bottom' : 'Gapes at the top'}
            </button>
          ))}
        </div>
      )}
      <p className={styles.hint}>{now?.mind}</p>
      {worked.isError && <p className={styles.refused}>{refusalText(worked.error)}</p>}
      <button type="submit" disabled={!ready || worked.isPending}>
        Take it for this edge
      </button>
    </form>
  );
}
