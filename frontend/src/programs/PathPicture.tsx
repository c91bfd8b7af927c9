import { useEffect, useMemo, useRef, useState, type PointerEvent } from 'react';
import { showSize, type ShopUnits } from '../kit/units';
import styles from './programs.module.css';
import { GRAVITY, type Finding, type Found, type Stroke } from './queries';
import { Play } from './Play';
import { placeAt, strokesByContour, type Place } from './run';
import { around, distance, moved, zoomed, type View } from './view';

interface Props {
  found: Found;
  sheet: readonly [number, number] | null;
  /** The original of a copy, drawn under it. */
  under: Found | null;
  chosen: number | null;
  onChoose: (contour: number | null) => void;
  /** Contours that another set would cut. */
  otherSet?: ReadonlySet<number> | null;
  units: ShopUnits;
}

const line = (points: readonly (readonly number[])[]) => `M${points.map((p) => p.join(' ')).join('L')}`;

const pathOf = (strokes: readonly Stroke[]) => strokes.map((s) => line(s.points)).join('');

/** The path on the sheet, to scale, by the speed that is really reached; findings as marks. */
export function PathPicture({ found, sheet, under, chosen, onChoose, otherSet, units }: Props) {
  const [seconds, setSeconds] = useState<number | null>(null);
  const by = useMemo(() => strokesByContour(found), [found]);
  const place = seconds === null ? null : placeAt(by, found.moves_off_s, seconds);
  const whole = useMemo(() => wholeOf(found, sheet), [found, sheet]);
  const [view, setView] = useState<View | null>(null);
  const shown = view ?? whole;
  const svg = useRef<SVGSVGElement>(null);
  const touches = useRef(new Map<number, { x: number; y: number }>());
  const travelled = useRef(0);
  const per = () => {
    const box = svg.current?.getBoundingClientRect();
    return box ? Math.max(shown.width / box.width, shown.height / box.height) : 1;
  };
  const placeOf = (e: { clientX: number; clientY: number }) => {
    const box = svg.current?.getBoundingClientRect();
    const scale = per();
    if (!box) return { x: 0, y: 0 };
    return {
      x: shown.x + shown.width / 2 + (e.clientX - box.left - box.width / 2) * scale,
      y: shown.y + shown.height / 2 - (e.clientY - box.top - box.height / 2) * scale,
    };
  };
  const turned = useRef<(e: WheelEvent) => void>(() => undefined);
  useEffect(() => {
    turned.current = (e) => {
      e.preventDefault(); // the wheel enlarges the picture, and leaves the page where it is
      setView(zoomed(shown, e.deltaY > 0 ? 1.2 : 1 / 1.2, placeOf(e)));
    };
  });
  useEffect(() => {
    const picture = svg.current;
    const turn = (e: WheelEvent) => turned.current(e);
    picture?.addEventListener('wheel', turn, { passive: false });
    return () => picture?.removeEventListener('wheel', turn);
  }, []);
  const pressed = (e: PointerEvent) => {
    e.currentTarget.setPointerCapture(e.pointerId);
    touches.current.set(e.pointerId, { x: e.clientX, y: e.clientY });
    if (touches.current.size === 1) travelled.current = 0;
  };
  const dragged = (e: PointerEvent) => {
    const before = touches.current.get(e.pointerId);
    if (!before) return;
    const now = { x: e.clientX, y: e.clientY };
    const others = [...touches.current].filter(([id]) => id !== e.pointerId).map(([, p]) => p);
    touches.current.set(e.pointerId, now);
    travelled.current += Math.hypot(now.x - before.x, now.y - before.y);
    const other = others[0];
    if (other) {
      const was = Math.hypot(before.x - other.x, before.y - other.y);
      const is = Math.hypot(now.x - other.x, now.y - other.y);
      const middle = placeOf({ clientX: (now.x + other.x) / 2, clientY: (now.y + other.y) / 2 });
      if (is > 8) setView(zoomed(shown, was / is, middle));
    } else if (travelled.current > 5) {
      const scale = per();
      setView({
        ...shown,
        x: shown.x - (now.x - before.x) * scale,
        y: shown.y + (now.y - before.y) * scale,
      });
    }
  };
  const released = (e: PointerEvent) => {
    const one = touches.current.size === 1;
    touches.current.delete(e.pointerId);
    if (one && travelled.current <= 5) onChoose(nearest(found, placeOf(e), 14 * per()));
  };
  const keyed = (key: string) => {
    const middle = { x: shown.x + shown.width / 2, y: shown.y + shown.height / 2 };
    if (key === '+' || key === '=') setView(zoomed(shown, 0.7, middle));
    else if (key === '-') setView(zoomed(shown, 1 / 0.7, middle));
    else if (key === '0') setView(null);
    else if (key === 'ArrowLeft') setView(moved(shown, -0.15, 0));
    else if (key === 'ArrowRight') setView(moved(shown, 0.15, 0));
    else if (key === 'ArrowUp') setView(moved(shown, 0, 0.15));
    else if (key === 'ArrowDown') setView(moved(shown, 0, -0.15));
    else return false;
    return true;
  };
  return (
    <div className={styles.picture}>
      <svg
        ref={svg}
        viewBox={`${shown.x} ${-shown.y - shown.height} ${shown.width} ${shown.height}`}
        role="application"
        style={{ aspectRatio: `${whole.width} / ${whole.height}` }}
        tabIndex={0}
        aria-label={`The path on the sheet: ${found.contours.length} contours. Plus and minus change the size, arrows move it, 0 shows all.`}
        onPointerDown={pressed}
        onPointerMove={dragged}
        onPointerUp={released}
        onPointerCancel={(e) => touches.current.delete(e.pointerId)}
        onKeyDown={(e) => {
          if (!e.ctrlKey && !e.metaKey && keyed(e.key)) e.preventDefault();
        }}
      >
        <Layers
          found={found}
          by={by}
          place={place}
          sheet={sheet}
          under={under}
          chosen={chosen}
          otherSet={otherSet}
          across={Math.max(shown.width, shown.height)}
          corner={shown.width / 18}
        />
      </svg>
      <Zoom onKey={keyed} />
      <Play whole={found.report.seconds} seconds={seconds} onSeconds={setSeconds} />
      <Key sheet={sheet} units={units} />
    </div>
  );
}

interface LayersProps extends Pick<Props, 'found' | 'sheet' | 'under' | 'chosen' | 'otherSet'> {
  by: Stroke[][];
  place: Place | null;
  /** Of the picture, in millimetres: what marks and torch are sized by. */
  across: number;
  corner: number;
}

/** All that is drawn, from the sheet to the marks; while the run plays, what is cut by now. */
function Layers({ found, by, place, across, corner, ...of }: LayersProps) {
  const { sheet, under, chosen, otherSet } = of;
  return (
    <g transform="scale(1 -1)">
      {sheet && <rect className={styles.sheetOf} width={sheet[0]} height={sheet[1]} />}
      <Rapids found={found} />
      {under && <path className={styles.under} d={pathOf(under.strokes)} />}
      {otherSet && (
        <path
          className={styles.otherSet}
          d={pathOf(found.strokes.filter((s) => otherSet.has(s.contour)))}
        />
      )}
      <g className={place ? styles.uncut : ''}>
        <Strokes found={found} />
      </g>
      {place && <Cut by={by} place={place} size={across / 70} />}
      {chosen !== null && (
        <path className={styles.chosen} d={pathOf(found.strokes.filter((s) => s.contour === chosen))} />
      )}
      <path className={styles.zero} d={`M0 ${corner}V0H${corner}`} />
      {!place && <Marks found={found} size={across / 90} chosen={chosen} />}
    </g>
  );
}

/** Closer, farther, and all of it. */
function Zoom({ onKey }: { onKey: (key: string) => void }) {
  return (
    <div className={styles.zoom}>
      <button type="button" aria-label="Closer" onClick={() => onKey('+')}>
        +
      </button>
      <button type="button" aria-label="Farther" onClick={() => onKey('-')}>
        −
      </button>
      <button type="button" onClick={() => onKey('0')}>
        All
      </button>
    </div>
  );
}

/** What the lines mean. */
function Key({ sheet, units }: Pick<Props, 'sheet' | 'units'>) {
  const size = (mm: number) => showSize(mm, units).text;
  return (
    <p className={styles.key}>
      <span data-band="at_speed">at speed</span>
      <span data-band="slow">under nine tenths</span>
      <span data-band="crawling">under half</span>
      <span data-band="lead">lead, overrun</span>
      {sheet && (
        <span>
          sheet {size(sheet[0])} × {size(sheet[1])} {units.length_unit === 'mm' ? 'mm' : 'in'}
        </span>
      )}
    </p>
  );
}

/** What is cut by now, and the torch. */
function Cut({ by, place, size }: { by: Stroke[][]; place: Place; size: number }) {
  const done = useMemo(() => pathOf(by.slice(0, place.done).flat()), [by, place.done]);
  return (
    <>
      <path className={styles.cut} d={done + (place.begun.length ? line(place.begun) : '')} />
      <circle className={styles.torch} data-cutting={place.cutting} cx={place.x} cy={place.y} r={size} />
    </>
  );
}

function wholeOf(found: Found, sheet: readonly [number, number] | null): View {
  const [x0 = 0, y0 = 0, x1 = 100, y1 = 100] = found.report.extents_mm ?? [];
  if (!sheet) return around([Math.min(0, x0), Math.min(0, y0)], [x1, y1]);
  return around([Math.min(0, x0), Math.min(0, y0)], [Math.max(sheet[0], x1), Math.max(sheet[1], y1)]);
}

function nearest(found: Found, at: { x: number; y: number }, within: number): number | null {
  let best: number | null = null;
  let least = within;
  for (const s of found.strokes) {
    const d = distance(s.points, at.x, at.y);
    if (d < least) [best, least] = [s.contour, d];
  }
  return best;
}

function Rapids({ found }: { found: Found }) {
  const d = useMemo(
    () => found.rapids.map(([a, b, c, e]) => `M${a} ${b}L${c} ${e}`).join(''),
    [found.rapids],
  );
  return <path className={styles.rapid} d={d} />;
}

/** A few paths however many contours: one for each pace, so that thousands stay fluid. */
function Strokes({ found }: { found: Found }) {
  const paths = useMemo(
    () =>
      (['at_speed', 'slow', 'crawling'] as const).flatMap((band) =>
        [false, true].map((lead) => ({
          band,
          lead,
          d: pathOf(found.strokes.filter((s) => s.band === band && s.lead === lead)),
        })),
      ),
    [found.strokes],
  );
  return paths.map((p) => (
    <path
      key={`${p.band} ${String(p.lead)}`}
      className={styles.stroke}
      data-band={p.band}
      data-lead={p.lead}
      d={p.d}
    />
  ));
}

function Marks({ found, size, chosen }: { found: Found; size: number; chosen: number | null }) {
  const placed = found.findings.filter((f): f is Finding & { at: [number, number] } => f.at !== null);
  return placed.slice(0, 400).map((f, i) => (
    <g
      key={i}
      className={styles.mark}
      data-severity={f.severity}
      data-chosen={chosen !== null && f.contour === chosen}
      transform={`translate(${f.at[0]} ${f.at[1]}) scale(${size} ${-size})`}
    >
      {f.severity === 'stop' && <rect x={-0.9} y={-0.9} width={1.8} height={1.8} />}
      {f.severity === 'look' && <path d="M0 -1.1L1.1 .8H-1.1Z" />}
      {f.severity === 'note' && <circle r={0.9} />}
      <title>{`${GRAVITY[f.severity].word}: ${f.title}`}</title>
    </g>
  ));
}
