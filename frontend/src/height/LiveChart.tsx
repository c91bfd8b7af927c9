import { useEffect, useRef } from 'react';
import type { LiveStream } from './live';
import styles from './live.module.css';

/** Seconds that the picture shows. */
const SPAN_S = 20;

interface Ink {
  ink: string;
  soft: string;
  line: string;
  limit: string;
  expect: string;
  plate: string;
  sheet: string;
}

const inkOf = (of: Element): Ink => {
  const style = getComputedStyle(of);
  const get = (name: string) => style.getPropertyValue(name).trim();
  return {
    ink: get('--ink'),
    soft: get('--soft'),
    line: get('--line'),
    limit: get('--limit'),
    expect: get('--expect'),
    plate: get('--plate'),
    sheet: get('--sheet'),
  };
};

/**
 * The last twenty seconds of arc voltage, drawn as they come: of each column of the picture the least and the most
 * volts, so that no peak is lost; the set-point, the speed at the foot, and the phases along the top.
 */
export function LiveChart({
  stream,
  height = 300,
  small = false,
}: {
  stream: LiveStream;
  height?: number;
  /** In a strip: the line and the set-point, without scales. */
  small?: boolean;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const on = canvas.current;
    const to = on?.getContext('2d');
    if (!on || !to) return;
    let frame = 0;
    let painted = -1; // samples that the picture holds: it is painted anew for more of them, not for every frame
    let ink = inkOf(on);
    const themed = new MutationObserver(() => {
      ink = inkOf(on);
      painted = -1;
    });
    themed.observe(document.documentElement, { attributes: true, attributeFilter: ['data-theme'] });
    const draw = () => {
      frame = requestAnimationFrame(draw);
      const scale = window.devicePixelRatio || 1;
      const [w, h] = [on.clientWidth, on.clientHeight];
      if (on.width !== Math.round(w * scale) || on.height !== Math.round(h * scale)) {
        on.width = Math.round(w * scale);
        on.height = Math.round(h * scale);
        painted = -1;
      }
      if (stream.rings.count === painted) return;
      painted = stream.rings.count;
      to.setTransform(scale, 0, 0, scale, 0, 0);
      paint(to, w, h, stream, ink, small);
    };
    frame = requestAnimationFrame(draw);
    return () => {
      cancelAnimationFrame(frame);
      themed.disconnect();
    };
  }, [stream, small]);
  return (
    <canvas
      ref={canvas}
      className={styles.chart}
      style={{ height }}
      role="img"
      aria-label="Arc voltage of the last twenty seconds; the figures beside it say the same"
    />
  );
}

/** Room at the head, at the foot, and on the left. */
const LARGE = [26, 44, 46] as const;
const SMALL = [12, 6, 0] as const;

/** What is drawn of the last seconds, one value a column of the picture; NaN, or no least, where nothing was read. */
interface Columns {
  least: Float32Array;
  most: Float32Array;
  set: Float32Array;
  feed: Float32Array;
  phase: Uint8Array;
}

function columnsOf({ rings }: LiveStream, columns: number): Columns {
  const drawn: Columns = {
    least: new Float32Array(columns).fill(Infinity),
    most: new Float32Array(columns).fill(-Infinity),
    set: new Float32Array(columns).fill(NaN),
    feed: new Float32Array(columns).fill(NaN),
    phase: new Uint8Array(columns),
  };
  const end = rings.count ? (rings.at[rings.index(0)] ?? 0) : 0;
  const begin = end - SPAN_S;
  for (let back = 0; back < rings.held; back++) {
    const i = rings.index(back);
    const at = rings.at[i] ?? 0;
    if (at < begin || at > end) break;
    putIn(drawn, Math.min(columns - 1, Math.floor(((at - begin) / SPAN_S) * columns)), rings, i);
  }
  return drawn;
}

function putIn(to: Columns, column: number, rings: LiveStream['rings'], i: number): void {
  const [volts = NaN, phase = 0] = [rings.volts[i], rings.phase[i]];
  const { least, most } = to;
  to.phase[column] = Math.max(to.phase[column] ?? 0, phase);
  if (phase > 0 && Number.isFinite(volts)) {
    least[column] = Math.min(least[column] ?? Infinity, volts);
    most[column] = Math.max(most[column] ?? -Infinity, volts);
  }
  to.set[column] = phase > 0 ? (rings.setPoint[i] ?? NaN) : NaN;
  to.feed[column] = rings.feed[i] ?? NaN;
}

/** The volts at the foot and at the head of the picture: whole tens round what was read. */
function rangeOf({ least, most }: Columns): [number, number] {
  const [lowest, highest] = [Math.min(...least), Math.max(...most)];
  const [from, to] = Number.isFinite(lowest) ? [lowest, highest] : [100, 150];
  const low = Math.floor((from - 4) / 10) * 10;
  return [low, Math.max(low + 30, Math.ceil((to + 4) / 10) * 10)];
}

function paint(
  to: CanvasRenderingContext2D,
  w: number,
  h: number,
  stream: LiveStream,
  ink: Ink,
  small: boolean,
): void {
  const [HEAD, FOOT, LEFT] = small ? SMALL : LARGE;
  to.clearRect(0, 0, w, h);
  to.font = '13px "Archivo Variable", sans-serif';
  const drawn = columnsOf(stream, Math.max(1, Math.floor(w - LEFT)));
  const [low, high] = rangeOf(drawn);
  const y = (v: number) => HEAD + ((high - v) / (high - low)) * (h - HEAD - FOOT);
  if (!small) grid(to, w, h, [low, high], y, ink, LEFT);
  bands(to, drawn.phase, ink, HEAD, LEFT, !small);
  trace(to, drawn, y, ink.ink, LEFT);
  strip(to, drawn.set, y, ink.limit, 2.2, LEFT);
  if (small) return;
  const fastest = drawn.feed.reduce((most, v) => (v > most ? v : most), 1);
  strip(to, drawn.feed, (v) => h - 6 - (v / fastest) * (FOOT - 18), ink.soft, 1.4, LEFT);
}

/** The volts from the least to the most of each column, joined for as long as the arc burns. */
function trace(
  to: CanvasRenderingContext2D,
  { least, most, phase }: Columns,
  y: (v: number) => number,
  colour: string,
  left: number,
): void {
  to.strokeStyle = colour;
  to.lineWidth = 1.4;
  to.beginPath();
  let joined = false;
  for (const [c, a] of least.entries()) {
    if (!Number.isFinite(a)) {
      joined = joined && (phase[c] ?? 0) > 0;
      continue;
    }
    const b = most[c] ?? a;
    if (joined) to.lineTo(left + c, y(b));
    else to.moveTo(left + c, y(b));
    to.lineTo(left + c, y(a));
    joined = true;
  }
  to.stroke();
}

function grid(
  to: CanvasRenderingContext2D,
  w: number,
  h: number,
  [low, high]: [number, number],
  y: (v: number) => number,
  ink: Ink,
  left: number,
): void {
  const step = high - low > 80 ? 20 : 10;
  to.lineWidth = 1;
  to.strokeStyle = ink.line;
  to.fillStyle = ink.soft;
  to.textAlign = 'right';
  to.textBaseline = 'middle';
  for (let v = low; v <= high; v += step) {
    to.beginPath();
    to.moveTo(left, y(v));
    to.lineTo(w, y(v));
    to.stroke();
    to.fillText(String(v), left - 8, y(v));
  }
  to.fillText('speed', left - 8, h - 16);
}

/** What each phase is called where there is room for it along the top. */
const NAMES = ['', 'pierce', 'settling', 'steady', 'slowed', 'jump', 'stretched'];

function bands(
  to: CanvasRenderingContext2D,
  phase: Uint8Array,
  ink: Ink,
  head: number,
  left: number,
  named: boolean,
): void {
  let from = 0;
  to.textBaseline = 'alphabetic';
  for (let c = 1; c <= phase.length; c++) {
    if (c < phase.length && phase[c] === phase[from]) continue;
    const of = phase[from] ?? 0;
    if (of > 0) {
      to.fillStyle = of === 3 ? ink.plate : of < 3 ? ink.line : ink.limit;
      to.fillRect(left + from, head - 7, c - from, of === 3 ? 3 : 6);
      const name = NAMES[of] ?? '';
      if (named && c - from > to.measureText(name).width + 8) {
        to.fillStyle = ink.soft;
        to.textAlign = 'left';
        to.fillText(name, left + from + 2, head - 11);
      }
    }
    from = c;
  }
}

function strip(
  to: CanvasRenderingContext2D,
  values: Float32Array,
  y: (v: number) => number,
  colour: string,
  width: number,
  left: number,
): void {
  to.strokeStyle = colour;
  to.lineWidth = width;
  to.beginPath();
  let joined = false;
  for (let c = 0; c < values.length; c++) {
    const v = values[c] ?? NaN;
    if (!Number.isFinite(v)) continue;
    if (joined) to.lineTo(left + c, y(v));
    else to.moveTo(left + c, y(v));
    joined = true;
  }
  to.stroke();
}
