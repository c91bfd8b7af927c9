import Dialog from '@mui/material/Dialog';
import { useMutation } from '@tanstack/react-query';
import { useState, type PointerEvent } from 'react';
import { answered, api, type Schema } from '../kit/client';
import { refusalText } from '../kit/Notice';
import { QuantityField } from '../kit/QuantityField';
import { showDegrees, showLength, type ShopUnits } from '../kit/units';
import { pictureOf, type Photo } from './photos';
import styles from './photos.module.css';

type What = Schema['MeasureRequest']['what'];
type Tap = [number, number];

export type Measured = { what: What } & Schema['MeasureAnswer'];

interface Props {
  photo: Photo;
  units: ShopUnits;
  edge: string | undefined;
  onClose: () => void;
  onMeasured: ((measured: Measured) => void) | undefined;
}

/** What is tapped, in order: two taps each. */
const STEPS: Record<What, readonly [string, string, string, string]> = {
  bevel: [
    'Tap one end of the top face',
    'Tap the other end of the top face',
    'Tap the top of the edge',
    'Tap the bottom of the edge',
  ],
  lag: [
    'Tap one end of the top edge',
    'Tap the other end of the top edge',
    'Tap a lag line at the top',
    'Tap the same line at the bottom',
  ],
  kerf: [
    'Tap one end of the known length',
    'Tap its other end',
    'Tap one side of the kerf',
    'Tap its other side',
  ],
};
const SIDE: Record<What, string> = {
  bevel: 'The kept metal is on the',
  lag: 'The torch went to the',
  kerf: '',
};
const ZOOMS = [1, 2, 4] as const;

/** A photo large enough to tap: four taps give an angle or a width, with how sure it is. */
export function MeasurePhoto({ photo, units, edge, onClose, onMeasured }: Props) {
  const [what, setWhat] = useState<What>('bevel');
  const [side, setSide] = useState<'left' | 'right'>('right');
  const [taps, setTaps] = useState<Tap[]>([]);
  const [knownMm, setKnownMm] = useState<number | null>(null);
  const [zoom, setZoom] = useState<Zoom>(1);
  const measured = useMutation({
    mutationFn: ([a, b, c, d]: Tap[]) =>
      answered(
        api.POST('/api/photos/measured', {
          body: {
            what,
            base: [a ?? [0, 0], b ?? [0, 0]],
            line: [c ?? [0, 0], d ?? [0, 0]],
            side,
            known_mm: what === 'kerf' ? knownMm : null,
            u_px: TAP_PX,
          },
        }),
      ),
  });
  const begin = (to: What) => {
    setWhat(to);
    setTaps([]);
    measured.reset();
  };
  const tap = (at: Tap) => {
    const now = taps.length === 4 ? [at] : [...taps, at];
    setTaps(now);
    if (now.length === 4) measured.mutate(now);
    else measured.reset();
  };
  const waits = what === 'kerf' && knownMm === null;
  const answer = measured.data;
  return (
    <Dialog open fullScreen onClose={onClose} aria-labelledby="measure-title" transitionDuration={0}>
      <div className={styles.measure}>
        <Head what={what} zoom={zoom} onBegin={begin} onZoom={setZoom} onClose={onClose} />
        <Large photo={photo} zoom={zoom} taps={taps} onTap={waits ? undefined : tap} />
        <aside>
          <p className={styles.step} aria-live="polite">
            {waits ? 'Type the length that is known' : (STEPS[what][taps.length % 4] ?? '')}
          </p>
          {what !== 'kerf' && (
            <div className={styles.sides} role="group" aria-label={SIDE[what]}>
              <span>{SIDE[what]}</span>
              {(['left', 'right'] as const).map((s) => (
                <button
                  key={s}
                  type="button"
                  aria-pressed={side === s}
                  onClick={() => {
                    setSide(s);
                    measured.reset();
                    setTaps([]);
                  }}
                >
                  {s}
                </button>
              ))}
            </div>
          )}
          {what === 'kerf' && (
            <QuantityField
              label="Known length in the picture"
              quantity="length"
              unit={units.length_unit}
              onRead={setKnownMm}
            />
          )}
          {measured.isError && <p className={styles.refused}>{refusalText(measured.error)}</p>}
          {answer && <Result answer={answer} units={units} />}
          <button
            type="button"
            disabled={taps.length === 0}
            onClick={() => {
              setTaps(taps.slice(0, -1));
              measured.reset();
            }}
          >
            Last tap back
          </button>
          {onMeasured && answer && (
            <button
              type="button"
              className={styles.take}
              onClick={() => onMeasured({ what, ...answer })}
            >
              {what === 'bevel' ? `Take it: ${edge ?? 'this edge'}` : 'Take it'}
            </button>
          )}
          <p className={styles.mind}>
            Hold the camera square to the cut. Zoom in before you tap: each tap is taken to be within{' '}
            {TAP_PX} points of the photo.
          </p>
        </aside>
      </div>
    </Dialog>
  );
}

type Zoom = (typeof ZOOMS)[number];

interface HeadProps {
  what: What;
  zoom: Zoom;
  onBegin: (what: What) => void;
  onZoom: (zoom: Zoom) => void;
  onClose: () => void;
}

/** What is measured, how large the photo is, and back. */
function Head({ what, zoom, onBegin, onZoom, onClose }: HeadProps) {
  return (
    <header>
      <h1 id="measure-title">Measure on the photo</h1>
      {(['bevel', 'lag', 'kerf'] as const).map((w) => (
        <button key={w} type="button" aria-pressed={what === w} onClick={() => onBegin(w)}>
          {w === 'bevel' ? 'Bevel' : w === 'lag' ? 'Lag' : 'Kerf'}
        </button>
      ))}
      <span className={styles.gap} />
      {ZOOMS.map((z) => (
        <button key={z} type="button" aria-pressed={zoom === z} onClick={() => onZoom(z)}>
          ×{z}
        </button>
      ))}
      <button type="button" onClick={onClose}>
        Back
      </button>
    </header>
  );
}

interface LargeProps {
  photo: Props['photo'];
  zoom: Zoom;
  taps: Tap[];
  onTap: ((at: Tap) => void) | undefined;
}

/** The photo, to be tapped in its own points. */
function Large({ photo, zoom, taps, onTap }: LargeProps) {
  const tap = (e: PointerEvent<SVGSVGElement>) => {
    const box = e.currentTarget.getBoundingClientRect();
    onTap?.([
      ((e.clientX - box.left) / box.width) * photo.width_px,
      ((e.clientY - box.top) / box.height) * photo.height_px,
    ]);
  };
  return (
    <div className={styles.frame} data-zoomed={zoom > 1}>
      <div
        style={{
          width: `calc(${zoom} * min(100cqw, 100cqh * ${photo.width_px / photo.height_px}))`,
          aspectRatio: `${photo.width_px} / ${photo.height_px}`,
        }}
      >
        <img src={pictureOf(photo, 'picture')} alt={photo.caption || 'The piece'} />
        <svg
          viewBox={`0 0 ${photo.width_px} ${photo.height_px}`}
          onPointerDown={tap}
          aria-label="Tap here"
          role="application"
        >
          <Taps taps={taps} unit={photo.width_px / 900 / zoom} />
        </svg>
      </div>
    </div>
  );
}

/** What a tap with a steady hand, zoomed in, errs by in the photo's own points (core/edge/on_photo.py). */
const TAP_PX = 3;

function Result({ answer, units }: { answer: Schema['MeasureAnswer']; units: ShopUnits }) {
  const width = answer.mm;
  return (
    <p className={styles.result}>
      <output className="number">
        {typeof width === 'number'
          ? `${showLength(width, units).text} ${units.length_unit}`
          : showDegrees(answer.deg)}
      </output>
      <span>
        ±{' '}
        {typeof width === 'number'
          ? showLength(2 * (answer.u_mm ?? 0), units).text
          : `${(2 * (answer.u_deg ?? 0)).toFixed(1)}°`}
      </span>
    </p>
  );
}

function Taps({ taps, unit }: { taps: readonly Tap[]; unit: number }) {
  const pairs = [taps.slice(0, 2), taps.slice(2, 4)];
  return (
    <g fill="none" strokeWidth={3 * unit}>
      {pairs.map(([a, b], i) =>
        a && b ? (
          <path
            key={i}
            d={`M${a[0]} ${a[1]}L${b[0]} ${b[1]}`}
            stroke="var(--straw)"
            strokeDasharray={`${9 * unit} ${5 * unit}`}
          />
        ) : null,
      )}
      {taps.map(([x, y]) => (
        <g key={`${x} ${y}`} stroke="var(--chalk)">
          <circle cx={x} cy={y} r={11 * unit} stroke="var(--chart-ink)" strokeWidth={6 * unit} />
          <circle cx={x} cy={y} r={11 * unit} />
          <circle cx={x} cy={y} r={1.6 * unit} fill="var(--chalk)" />
        </g>
      ))}
    </g>
  );
}
