import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answered, api } from '../kit/client';
import { KerfSection } from '../kit/KerfSection';
import { Notice, refusalText } from '../kit/Notice';
import { TemperBar } from '../kit/TemperBar';
import { chanceInWords, showDegrees, showLength, showSpeed, type ShopUnits } from '../kit/units';
import { MapTable } from './ChanceMap';
import { CurveChart } from './CurveChart';
import { dialled, pressed, steps, type Bench, type Setting, type WhatIf } from './model';
import styles from './window.module.css';
import { WIDE, WindowMap } from './WindowMap';

interface Props {
  bench: Bench;
  units: ShopUnits;
  begin: Setting;
  /** Opens the log of a cut made there; null where none can be begun now. */
  onCutAt: ((at: Setting) => void) | null;
  onClose: () => void;
}

/** "What if I set ...?": the window at large; a tap or a step says what to expect there, and why. */
export function WindowDialog({ bench, units, begin, onCutAt, onClose }: Props) {
  const [at, setAt] = useState(begin);
  const [asTable, setAsTable] = useState(false);
  const { trial } = bench;
  const answer = useQuery({
    queryKey: ['what-if', trial.id, trial.revision, at],
    queryFn: () =>
      answered(
        api.GET('/api/trials/{trial_id}/what-if', {
          params: { path: { trial_id: trial.id }, query: at },
        }),
      ),
    placeholderData: keepPreviousData,
  });
  const old = answer.isPlaceholderData;
  return (
    <Dialog
      open
      onClose={onClose}
      maxWidth="xl"
      fullWidth
      aria-labelledby="window-title"
      transitionDuration={0}
    >
      <div className={styles.window}>
        <section className={styles.over}>
          <header>
            <h1 id="window-title">What if I set …</h1>
            <button type="button" onClick={() => setAsTable(!asTable)}>
              {asTable ? 'As pictures' : 'As a table'}
            </button>
          </header>
          {asTable ? (
            <MapTable bench={bench} units={units} />
          ) : (
            <WindowMap bench={bench} units={units} frame={WIDE} chosen={at} onChoose={setAt} />
          )}
          <p className={styles.key}>
            Tap anywhere. Straw: it would fail; blue: it would pass. Numbered: cuts made; square:
            advised.
          </p>
          {answer.data && (
            <div className={styles.curves} data-old={old}>
              <CurveChart
                bench={bench}
                units={units}
                quantity="speed"
                curve={answer.data.along_speed}
                at={at.speed_mm_min}
                asTable={asTable}
              />
              <CurveChart
                bench={bench}
                units={units}
                quantity="height"
                curve={answer.data.along_height}
                at={at.cut_height_mm}
                asTable={asTable}
              />
            </div>
          )}
        </section>
        <section className={styles.answer} aria-label="What it would give">
          <Steppers bench={bench} units={units} at={at} onChoose={setAt} />
          {answer.isError && <Notice kind="refusal">{refusalText(answer.error)}</Notice>}
          {answer.data && <Answer bench={bench} answer={answer.data} old={old} />}
          <div className={styles.go}>
            {onCutAt && (
              <Button
                variant="outlined"
                onClick={() => {
                  onClose();
                  onCutAt(at);
                }}
              >
                I cut it there: log it
              </Button>
            )}
            <Button variant="outlined" onClick={() => setAt(bench.now.setting)}>
              As advised
            </Button>
            <Button variant="contained" onClick={onClose}>
              Back
            </Button>
          </div>
        </section>
      </div>
    </Dialog>
  );
}

function Answer({ bench, answer, old }: { bench: Bench; answer: WhatIf; old: boolean }) {
  const { trial } = bench;
  const { expected } = answer;
  return (
    <div className={styles.said} data-old={old} aria-live="polite" aria-busy={old}>
      <TemperBar chance={answer.chance} label="Chance it passes" />
      <p className={styles.why}>{answer.why}</p>
      <KerfSection
        size="thumb"
        thicknessMm={trial.thickness_mm}
        kerfMm={trial.start.kerf_mm}
        leftDeg={expected.bevel_left_deg}
        rightDeg={expected.bevel_right_deg}
        goodSide={trial.good_side}
        dross={expected.dross}
      />
      <dl>
        <div>
          <dt>
            Kept edges <small>on average</small>
          </dt>
          <dd>
            {showDegrees(
              trial.good_side === 'right' ? expected.bevel_right_deg : expected.bevel_left_deg,
            )}{' '}
            ± {expected.bevel_sd_deg.toFixed(1)}
          </dd>
        </div>
        <div>
          <dt>All edges square</dt>
          <dd>{chanceInWords(answer.square)}</dd>
        </div>
        <div>
          <dt>Clean enough underneath</dt>
          <dd>{chanceInWords(answer.clean)}</dd>
        </div>
        <div>
          <dt>Through</dt>
          <dd>{chanceInWords(answer.through)}</dd>
        </div>
        <div>
          <dt>Arc voltage there</dt>
          <dd>
            {answer.arc_voltage_v === null ? 'not known yet' : `${answer.arc_voltage_v.toFixed(1)} V`}
          </dd>
        </div>
      </dl>
    </div>
  );
}

/** One step slower, faster, lower, higher: for gloves and for the keyboard. */
function Steppers({
  bench,
  units,
  at,
  onChoose,
}: {
  bench: Bench;
  units: ShopUnits;
  at: Setting;
  onChoose: (at: Setting) => void;
}) {
  const step = steps(at, units);
  const press = pressed(units);
  const speed = showSpeed(at.speed_mm_min, units);
  const height = showLength(at.cut_height_mm, units);
  const go = (bySpeed: number, byHeight: number) =>
    onChoose(
      dialled(
        {
          speed_mm_min: at.speed_mm_min + bySpeed * step.speed_mm_min,
          cut_height_mm: at.cut_height_mm + byHeight * step.cut_height_mm,
        },
        units,
        bench.trial.limits,
      ),
    );
  return (
    <div className={styles.steppers}>
      <button type="button" aria-label="Slower" onClick={() => go(-press.speed, 0)}>
        −
      </button>
      <p>
        <span className="number">{speed.text}</span> {speed.unit}
      </p>
      <button type="button" aria-label="Faster" onClick={() => go(press.speed, 0)}>
        +
      </button>
      <button type="button" aria-label="Lower" onClick={() => go(0, -press.height)}>
        −
      </button>
      <p>
        <span className="number">{height.text}</span> {height.unit}
      </p>
      <button type="button" aria-label="Higher" onClick={() => go(0, press.height)}>
        +
      </button>
    </div>
  );
}
