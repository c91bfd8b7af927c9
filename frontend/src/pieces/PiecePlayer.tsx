import { useEffect, useMemo, useRef, useState } from 'react';
import { Icon } from '../kit/icons';
import { showLength, showSpeed, type ShopUnits } from '../kit/units';
import styles from './player.module.css';
import {
  begins,
  cutBy,
  momentAt,
  strokesOf,
  tagsOf,
  type Played,
  type PlayedContour,
  type Tag,
} from './played';

const PACES = [1, 4, 16] as const;

/** The piece on its plate, to scale, played as the machine will run it. */
export function PiecePlayer({ played, units }: { played: Played; units: ShopUnits }) {
  const [at, setAt] = useState(0);
  const [running, setRunning] = useState(false);
  const [pace, setPace] = useState<number>(PACES[0]);
  useClock(running, pace, played.seconds, setAt, () => setRunning(false));
  const here = momentAt(played, at);
  const contour = played.contours[here.contour];
  const starts = useMemo(() => begins(played), [played]);
  const jump = (by: number) => {
    const to = starts[Math.min(starts.length - 1, Math.max(0, here.contour + by))];
    setAt(to ?? 0);
  };
  return (
    <div className={styles.player}>
      <PlateFromAbove played={played} at={at} units={units} />
      <div className={styles.bar}>
        <button
          type="button"
          className={styles.play}
          aria-label={running ? 'Stop playing' : 'Play the path at real speed'}
          onClick={() => {
            if (!running && at >= played.seconds) setAt(0);
            setRunning(!running);
          }}
        >
          <Icon name={running ? 'pause' : 'play'} />
        </button>
        <input
          type="range"
          min={0}
          max={played.seconds}
          step={0.05}
          value={at}
          aria-label="Time since the first pierce"
          aria-valuetext={`${at.toFixed(1)} of ${played.seconds.toFixed(1)} seconds`}
          onChange={(e) => {
            setRunning(false);
            setAt(Number(e.target.value));
          }}
        />
        <output className="number">
          {at.toFixed(1)} <small>of {played.seconds.toFixed(1)} s</small>
        </output>
      </div>
      <div className={styles.steps}>
        <button type="button" onClick={() => jump(-1)} disabled={here.contour === 0}>
          Contour before
        </button>
        <button type="button" onClick={() => jump(1)} disabled={here.contour === starts.length - 1}>
          Next contour
        </button>
        {PACES.map((p) => (
          <button key={p} type="button" aria-pressed={pace === p} onClick={() => setPace(p)}>
            {p === 1 ? 'real speed' : `× ${p}`}
          </button>
        ))}
      </div>
      {contour && (
        <NowCutting contour={contour} index={here.contour} played={played} at={at} units={units} />
      )}
    </div>
  );
}

/** Moves the time on while it runs, as fast as the screen draws. */
function useClock(
  running: boolean,
  pace: number,
  seconds: number,
  setAt: (next: (before: number) => number) => void,
  onEnd: () => void,
) {
  const end = useRef(onEnd);
  useEffect(() => {
    end.current = onEnd;
  });
  useEffect(() => {
    if (!running) return;
    let frame = 0;
    let before = performance.now();
    const tick = (now: number) => {
      const step = (pace * (now - before)) / 1000;
      before = now;
      setAt((at) => {
        if (at + step >= seconds) end.current();
        return Math.min(seconds, at + step);
      });
      frame = requestAnimationFrame(tick);
    };
    frame = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(frame);
  }, [running, pace, seconds, setAt]);
}

function PlateFromAbove({ played, at, units }: { played: Played; at: number; units: ShopUnits }) {
  const [width = 0, height = 0] = played.plate_mm;
  const strokes = useMemo(() => played.contours.map(strokesOf), [played]);
  const here = momentAt(played, at);
  const line = Math.max(width, height) / 260;
  const pad = 7 * line;
  const shown = (mm: number) => showLength(mm, units).text;
  return (
    <svg
      className={styles.plate}
      viewBox={`${-pad} ${-pad} ${width + 2 * pad} ${height + 2 * pad}`}
      role="img"
      aria-label={`${played.title} from above on a plate of ${shown(width)} by ${shown(height)} ${units.length_unit}; ${played.contours.length} contours, ${played.seconds.toFixed(0)} seconds`}
    >
      <g transform={`matrix(1 0 0 -1 0 ${height})`} strokeLinecap="round" strokeLinejoin="round">
        <rect width={width} height={height} className={styles.steel} strokeWidth={line} />
        {played.taken.map((z) => (
          <rect
            key={`${z.x_mm} ${z.y_mm}`}
            x={z.x_mm}
            y={z.y_mm}
            width={z.width_mm}
            height={z.height_mm}
            className={styles.gone}
          />
        ))}
        {played.parts.map((p, i) => (
          <path
            key={i}
            d={p.rings.map((r) => `M${r.map((q) => q.join(' ')).join('L')}Z`).join('')}
            className={p.scrap ? styles.scrap : styles.kept}
            fillRule="evenodd"
          />
        ))}
        {cutBy(played, at).map((points, i) => (
          <polyline key={i} points={points} className={styles.cut} strokeWidth={5 * line} />
        ))}
        {strokes.flat().map((s, i) => (
          <polyline
            key={i}
            points={s.points}
            className={s.slow ? styles.slow : styles.path}
            strokeWidth={(s.slow ? 2.4 : 1.4) * line}
            strokeDasharray={s.lead ? `${3.2 * line} ${3 * line}` : undefined}
          />
        ))}
        {played.contours.map((c, i) => {
          const pierce = c.samples[0];
          return pierce ? (
            <circle key={i} cx={pierce.x_mm} cy={pierce.y_mm} r={2.2 * line} className={styles.pierce} />
          ) : null;
        })}
        <path d={`M0 ${14 * line}V0H${14 * line}`} className={styles.zero} strokeWidth={2.4 * line} />
        <g className={styles.torch} data-burning={here.burning} strokeWidth={1.6 * line}>
          <circle cx={here.x} cy={here.y} r={6.5 * line} />
          <circle cx={here.x} cy={here.y} r={1.8 * line} />
        </g>
      </g>
      {tagsOf(played).map((t) => (
        <text
          key={`${t.x} ${t.y}`}
          x={t.x}
          y={height - t.y + ('number' in t.said ? 4 : 10) * line}
          className={styles.tag}
          fontSize={('number' in t.said ? 12 : 8.5) * line}
        >
          {saidOn(t, units)}
        </text>
      ))}
    </svg>
  );
}

function saidOn({ said }: Tag, units: ShopUnits): string {
  if ('number' in said) return said.number;
  if ('speed_mm_min' in said) return showSpeed(said.speed_mm_min, units).text;
  if ('cut_height_mm' in said) return showLength(said.cut_height_mm, units).text;
  return `${said.delay_s.toFixed(2)} s`;
}

/** What is cut at this moment, and how fast, against the speed set. */
function NowCutting({
  contour,
  index,
  played,
  at,
  units,
}: {
  contour: PlayedContour;
  index: number;
  played: Played;
  at: number;
  units: ShopUnits;
}) {
  const here = momentAt(played, at);
  const piercing = here.burning && at < (contour.samples[1]?.at_s ?? 0);
  const [x0, y0, x1, y1] = played.extents_mm;
  const mm = (v = 0) => showLength(v, units).text;
  const set = showSpeed(contour.speed_mm_min, units);
  return (
    <div className={styles.now} aria-live="off">
      <p>
        <strong>
          {index + 1} of {played.contours.length}: {contour.name}
        </strong>{' '}
        at {mm(contour.cut_height_mm)} {units.length_unit}, kept metal on the {contour.kept_side}
        {contour.height_control ? ', height control on' : ''}
      </p>
      <p className="number">
        {piercing ? (
          `piercing, ${contour.pierce_delay_s.toFixed(2)} s`
        ) : (
          <>
            {showSpeed(here.speed_mm_min, units).text}{' '}
            <small>
              of {set.text} {set.unit}
            </small>
          </>
        )}
      </p>
      <p className={styles.key}>
        <span data-slow="true">below nine tenths of its speed</span>
        <span>at speed</span>
        <span data-lead="true">lead or overrun</span>
        Zero: near left corner. The torch reaches X {mm(x0)} to {mm(x1)}, Y {mm(y0)} to {mm(y1)}{' '}
        {units.length_unit}.
      </p>
    </div>
  );
}
