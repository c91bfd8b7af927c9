import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import styles from './height.module.css';
import { drawnQuery, type Drawn, type Trace } from './queries';

const [W, H, LEFT, HEAD, FOOT] = [1200, 260, 52, 24, 42];

/** A recording drawn: of each slice of time the least and the most volts, so that no peak is lost at any zoom. */
export function TraceChart({ trace }: { trace: Trace }) {
  const [view, setView] = useState<[number, number]>(() => [trace.begins_s, trace.ends_s]);
  const drawn = useQuery(drawnQuery(trace.line.id, view[0], view[1], 1100));
  const whole = trace.ends_s - trace.begins_s;
  const zoom = (by: number) => {
    const middle = (view[0] + view[1]) / 2;
    const half = Math.max(0.05, Math.min(whole / 2, ((view[1] - view[0]) / 2) * by));
    const from = Math.max(trace.begins_s, Math.min(middle - half, trace.ends_s - 2 * half));
    setView([from, Math.min(trace.ends_s, from + 2 * half)]);
  };
  const move = (share: number) => {
    const by = share * (view[1] - view[0]);
    const from = Math.max(trace.begins_s, Math.min(view[0] + by, trace.ends_s - (view[1] - view[0])));
    setView([from, from + (view[1] - view[0])]);
  };
  return (
    <figure className={styles.trace}>
      {drawn.data && <Picture drawn={drawn.data} trace={trace} view={view} />}
      <figcaption>
        <button type="button" onClick={() => move(-0.5)} aria-label="Earlier">
          ←
        </button>
        <button type="button" onClick={() => zoom(0.5)}>
          Closer
        </button>
        <button type="button" onClick={() => zoom(2)}>
          Farther
        </button>
        <button type="button" onClick={() => move(0.5)} aria-label="Later">
          →
        </button>
        <button type="button" onClick={() => setView([trace.begins_s, trace.ends_s])}>
          All of it
        </button>
        {trace.cuts.length > 1 &&
          trace.cuts.slice(0, 8).map((c, i) => (
            <button
              key={c.arc_on_s}
              type="button"
              onClick={() => setView([c.arc_on_s - 0.3, Math.max(c.end_s + 0.3, c.arc_on_s + 1)])}
            >
              Start {i + 1}
            </button>
          ))}
      </figcaption>
    </figure>
  );
}

function Picture({ drawn, trace, view }: { drawn: Drawn; trace: Trace; view: [number, number] }) {
  const lit = drawn.most_v.filter((v) => v > 20);
  const least = drawn.least_v.filter((v) => v > 20);
  const high = Math.ceil((Math.max(...lit, 60) + 4) / 10) * 10;
  const low = Math.min(high - 30, Math.floor((Math.min(...least, high) - 4) / 10) * 10);
  const x = (s: number) => LEFT + ((s - view[0]) / (view[1] - view[0])) * (W - LEFT);
  const y = (v: number) => HEAD + ((high - Math.max(v, low)) / (high - low)) * (H - HEAD - FOOT);
  const step = high - low > 100 ? 40 : high - low > 50 ? 20 : 10;
  const ticks = Array.from({ length: Math.floor((high - low) / step) + 1 }, (_, i) => low + i * step);
  const seconds = [0, 0.25, 0.5, 0.75, 1].map((s) => view[0] + s * (view[1] - view[0]));
  const visible = (a: number, b: number) => b >= view[0] && a <= view[1];
  const events = trace.cuts.flatMap((c) => c.events).filter((e) => visible(e.from_s, e.to_s));
  return (
    <svg
      viewBox={`0 0 ${W} ${H}`}
      role="img"
      aria-label="Arc voltage over time; the list below says what happened"
    >
      {ticks.map((v) => (
        <g key={v}>
          <line x1={LEFT} x2={W} y1={y(v)} y2={y(v)} stroke="var(--line)" />
          <text x={LEFT - 8} y={y(v) + 5} textAnchor="end" fontSize="15" fill="var(--soft)">
            {v}
          </text>
        </g>
      ))}
      {events.map((e) => (
        <rect
          key={`${e.kind}${e.from_s}`}
          x={x(e.from_s)}
          width={Math.max(2, x(e.to_s) - x(e.from_s))}
          y={HEAD}
          height={H - HEAD - FOOT}
          fill="var(--warn-ground)"
        />
      ))}
      <path d={envelope(drawn, x, y)} fill="none" stroke="var(--ink)" strokeWidth="1.6" />
      {drawn.set_point_v && (
        <path
          d={along(drawn.at_s, drawn.set_point_v, x, y)}
          fill="none"
          stroke="var(--limit)"
          strokeWidth="2"
        />
      )}
      {drawn.feed_mm_min && (
        <path
          d={along(drawn.at_s, drawn.feed_mm_min, x, feedY(drawn.feed_mm_min))}
          fill="none"
          stroke="var(--soft)"
          strokeWidth="1.6"
        />
      )}
      {drawn.feed_mm_min && (
        <text x={LEFT - 8} y={H - 20} textAnchor="end" fontSize="14" fill="var(--soft)">
          speed
        </text>
      )}
      {named(events, x).map(({ event, at, anchor }) => (
        <text
          key={`${event.kind}${event.from_s}`}
          x={at}
          y={HEAD - 7}
          textAnchor={anchor}
          fontSize="15"
          fill="var(--ink)"
        >
          {event.word}
        </text>
      ))}
      {trace.cuts
        .filter((c) => c.settled_s !== null && visible(c.settled_s, c.settled_s))
        .map((c) => (
          <line
            key={c.arc_on_s}
            x1={x(c.settled_s ?? 0)}
            x2={x(c.settled_s ?? 0)}
            y1={HEAD}
            y2={H - FOOT}
            stroke="var(--expect)"
            strokeDasharray="4 4"
          />
        ))}
      {trace.trims
        .filter((t) => visible(t.at_s, t.at_s))
        .map((t) => (
          <path key={t.at_s} d={`M${x(t.at_s)} ${H - FOOT} l5 -10 h-10 z`} fill="var(--limit)" />
        ))}
      {seconds.map((s, i) => (
        <text
          key={s}
          x={x(s)}
          y={H - 2}
          textAnchor={i === 0 ? 'start' : i === 4 ? 'end' : 'middle'}
          fontSize="14"
          fill="var(--soft)"
        >
          {s.toFixed(2)} s
        </text>
      ))}
    </svg>
  );
}

const feedY = (feed: (number | null)[]) => {
  const most = Math.max(1, ...feed.map((f) => f ?? 0));
  return (f: number) => H - 18 - (f / most) * (FOOT - 22);
};

function envelope(drawn: Drawn, x: (s: number) => number, y: (v: number) => number): string {
  return drawn.at_s
    .map((s, i) => {
      const at = x(s).toFixed(1);
      return `${i === 0 ? 'M' : 'L'}${at} ${y(drawn.most_v[i] ?? 0).toFixed(1)}L${at} ${y(drawn.least_v[i] ?? 0).toFixed(1)}`;
    })
    .join('');
}

function along(
  at_s: number[],
  values: (number | null)[],
  x: (s: number) => number,
  y: (v: number) => number,
): string {
  let joined = false;
  return values
    .map((v, i) => {
      if (v === null) {
        joined = false;
        return '';
      }
      const to = `${joined ? 'L' : 'M'}${x(at_s[i] ?? 0).toFixed(1)} ${y(v).toFixed(1)}`;
      joined = true;
      return to;
    })
    .join('');
}

type Event = Trace['cuts'][number]['events'][number];

/** The events with room for their word. */
function named(events: Event[], x: (s: number) => number): Named[] {
  let free = 0;
  return events.flatMap((event) => {
    const wide = 7 * event.word.length;
    const fits = x(event.from_s) + wide <= W;
    const begins = fits ? x(event.from_s) : x(event.to_s) - wide;
    if (begins < free) return [];
    free = begins + wide + 8;
    return [{ event, at: x(fits ? event.from_s : event.to_s), anchor: fits ? 'start' : 'end' }];
  });
}

interface Named {
  event: Event;
  at: number;
  anchor: 'start' | 'end';
}
