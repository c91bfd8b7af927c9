import { at } from '../kit/place';
import type { Line } from './queries';

/** What a table shows, sample by sample, as it comes. Kept outside of React: a hundred samples a second are drawn, not
 * rendered. */

const KEPT = 65_536; // ten minutes at a hundred a second, and some

export type Phase = 'idle' | 'pierce' | 'settling' | 'steady' | 'slow' | 'jump' | 'stretched';
const PHASES: readonly Phase[] = ['idle', 'pierce', 'settling', 'steady', 'slow', 'jump', 'stretched'];

/** Samples as columns, as they come over the wire. */
export interface Samples {
  n: number[];
  at_s: number[];
  volts_v: (number | null)[];
  set_point_v: (number | null)[];
  z_mm: (number | null)[];
  feed_mm_min: (number | null)[];
  control: (number | null)[];
  phase: Phase[];
}

export interface Now {
  at_s: number;
  volts: number | null;
  setPoint: number | null;
  z: number | null;
  feed: number | null;
  control: boolean | null;
  phase: Phase;
}

const missing = (v: number | null | undefined): number => v ?? NaN;
const known = (v: number | undefined): number | null => (v === undefined || Number.isNaN(v) ? null : v);

/** The last ten minutes of samples in rings, by their number. */
export class Rings {
  readonly at = new Float64Array(KEPT);
  readonly volts = new Float32Array(KEPT);
  readonly setPoint = new Float32Array(KEPT);
  readonly z = new Float32Array(KEPT);
  readonly feed = new Float32Array(KEPT);
  readonly control = new Int8Array(KEPT);
  readonly phase = new Uint8Array(KEPT);
  count = 0;
  /** Samples that came, and such as were missed on the way. */
  received = 0;
  lost = 0;
  private last = 0;

  take(s: Samples): void {
    for (let i = 0; i < s.n.length; i++) {
      const n = s.n[i] ?? 0;
      if (this.last > 0 && n <= this.last) {
        if (n === this.last) continue; // told twice: it came again after a break
        this.last = 0; // another line took its place
      }
      if (this.last > 0) this.lost += n - this.last - 1;
      this.last = n;
      const at = this.count % KEPT;
      this.at[at] = s.at_s[i] ?? NaN;
      this.volts[at] = missing(s.volts_v[i]);
      this.setPoint[at] = missing(s.set_point_v[i]);
      this.z[at] = missing(s.z_mm[i]);
      this.feed[at] = missing(s.feed_mm_min[i]);
      this.control[at] = s.control[i] ?? -1;
      this.phase[at] = PHASES.indexOf(s.phase[i] ?? 'idle');
      this.count++;
      this.received++;
    }
  }

  /** Where the sample `back` before the newest is. */
  index(back: number): number {
    return (this.count - 1 - back + 2 * KEPT) % KEPT;
  }

  get held(): number {
    return Math.min(this.count, KEPT);
  }

  now(): Now | null {
    if (this.count === 0) return null;
    const i = this.index(0);
    return {
      at_s: this.at[i] ?? 0,
      volts: known(this.volts[i]),
      setPoint: known(this.setPoint[i]),
      z: known(this.z[i]),
      feed: known(this.feed[i]),
      control: this.control[i] === -1 ? null : this.control[i] === 1,
      phase: PHASES[this.phase[i] ?? 0] ?? 'idle',
    };
  }

  /** Time and way since the arc came, and how much of the way was blind: without height control. */
  sinceArc(): { seconds: number; way_mm: number; blind_mm: number } | null {
    let seconds = 0;
    let way = 0;
    let blind = 0;
    let first = true;
    for (let back = 0; back < this.held - 1; back++) {
      const i = this.index(back);
      const before = this.index(back + 1);
      if (this.phase[i] === 0) break;
      first = false;
      const step = (this.at[i] ?? 0) - (this.at[before] ?? 0);
      if (!(step > 0 && step < 1)) break;
      const moved = ((known(this.feed[i]) ?? 0) / 60) * step;
      seconds += step;
      way += moved;
      if (this.control[i] !== 1) blind += moved;
    }
    return first ? null : { seconds, way_mm: way, blind_mm: blind };
  }
}

type Told = () => void;

/** One table's stream, listened to while anything on the screen shows it. */
export class LiveStream {
  readonly rings = new Rings();
  line: Line | null = null;
  /** The server itself does not answer: the last state of the line says nothing any more. */
  away = false;
  private source: EventSource | null = null;
  private readonly told = new Set<Told>();
  private tick = 0;
  private readonly tableId: number;

  constructor(tableId: number) {
    this.tableId = tableId;
  }

  readonly subscribe = (told: Told): (() => void) => {
    this.told.add(told);
    if (this.source === null) this.open();
    return () => {
      this.told.delete(told);
      if (this.told.size === 0) this.close();
    };
  };

  readonly version = (): number => this.tick;

  private open(): void {
    const source = new EventSource(at(`/api/tables/${this.tableId}/line/stream`));
    this.source = source;
    source.addEventListener('line', (e: MessageEvent<string>) => {
      this.line = JSON.parse(e.data) as Line;
      this.changed();
    });
    source.addEventListener('samples', (e: MessageEvent<string>) => {
      this.rings.take(JSON.parse(e.data) as Samples);
    });
    source.onopen = () => {
      this.away = false;
      this.changed();
    };
    source.onerror = () => {
      this.away = true;
      this.changed();
      // A refusal closes it for good: then it is asked again by hand, not all the time.
      if (source.readyState === EventSource.CLOSED && this.source === source) {
        this.source = null;
        window.setTimeout(() => {
          if (this.told.size > 0 && this.source === null) this.open();
        }, 3000);
      }
    };
  }

  private close(): void {
    this.source?.close();
    this.source = null;
  }

  private changed(): void {
    this.tick++;
    for (const told of this.told) told();
  }
}

const streams = new Map<number, LiveStream>();

export function streamOf(tableId: number): LiveStream {
  let found = streams.get(tableId);
  if (!found) {
    found = new LiveStream(tableId);
    streams.set(tableId, found);
  }
  return found;
}
