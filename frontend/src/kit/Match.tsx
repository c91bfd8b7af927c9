import type { ReactNode } from 'react';
import type { Schema } from './client';
import { beads, welded, type Edge } from './section';

export type Picture = NonNullable<Schema['LookFor']['picture']>;

const WIDE = 84;
const HIGH = 50;

/**
 * What to match with what is in the hand, drawn from the same numbers as the kerf section, so that two people
 * who grade by it mean the same thing. `kind` tells the two forms of dross apart.
 */
export function Match({
  picture,
  value,
  kind = 'low_speed',
}: {
  picture: Picture;
  value: string;
  kind?: 'low_speed' | 'high_speed';
}) {
  return (
    <svg viewBox={`0 0 ${WIDE} ${HIGH}`} width={WIDE} height={HIGH} aria-hidden="true">
      {DRAWN[picture](value, kind)}
    </svg>
  );
}

const PLATE = { fill: 'var(--plate)' };
const LINE = { fill: 'none', stroke: 'currentColor', strokeWidth: 2 };
const FAINT = { fill: 'none', stroke: 'var(--plate-line)', strokeWidth: 1.6 };

const DRAWN: Record<Picture, (value: string, kind: 'low_speed' | 'high_speed') => ReactNode> = {
  grade: (value, kind) => <Underside grade={Number(value)} kind={kind} />,
  lag: (value) => <LagLines deg={Number(value)} />,
  rounding: (value) => <TopEdge radius={ROUND[value] ?? 0} />,
  colour: (value) => <Face tint={TINT[value] ?? 'var(--plate)'} bright={value === 'bright'} />,
  start_mark: (value) => <FromAbove path={START[value] ?? ''} mark={value === 'scar'} />,
  end_mark: (value) => (value === 'tab' ? <Tab /> : <FromAbove path={END[value] ?? ''} mark={false} />),
  crater: (value) => <Pierce ring={CRATER[value] ?? 0} splashed={value === 'blown'} />,
  tip: (value) => <path d={TIP[value] ?? ''} {...PLATE} />,
};

/** The plate seen along the cut, with what hangs on its lower corner. */
function Underside({ grade, kind }: { grade: number; kind: 'low_speed' | 'high_speed' }) {
  const edge: Edge = { topX: 12, bottomX: 12, topY: 4, bottomY: 24, into: 1 };
  return (
    <g>
      <rect x={12} y={4} width={WIDE - 16} height={20} {...PLATE} />
      {grade > 0 &&
        (kind === 'low_speed' ? (
          beads(edge, grade, 0.9).map((b) => <ellipse key={b.cx} {...b} fill="var(--dross)" />)
        ) : (
          <path d={welded(edge, grade, 1.4)} fill="var(--dross)" />
        ))}
    </g>
  );
}

/** The face of the cut: lines that its jet left, travel to the right. */
function LagLines({ deg }: { deg: number }) {
  const back = Math.tan((deg * Math.PI) / 180) * 36;
  return (
    <g>
      <rect x={4} y={6} width={WIDE - 8} height={38} {...PLATE} />
      {[22, 34, 46, 58, 70].map((x) => (
        <path
          key={x}
          d={`M${x} 7Q${x} 24 ${Math.max(6, x - back)} 43`}
          {...FAINT}
          stroke="var(--plate-ink)"
        />
      ))}
      <path d={`M${WIDE - 26} 2h18m-5 -2l6 2-6 2`} {...LINE} strokeWidth={1.4} />
    </g>
  );
}

const ROUND: Record<string, number> = { sharp: 0, slight: 4, rounded: 12, washed: 22 };

/** The upper corner end-on. */
function TopEdge({ radius }: { radius: number }) {
  return <path d={`M20 46V${8 + radius}Q20 8 ${20 + radius} 8H${WIDE - 4}V46Z`} {...PLATE} />;
}

const TINT: Record<string, string> = {
  bright: 'color-mix(in srgb, var(--plate) 22%, var(--chalk))',
  grey: 'var(--plate)',
  straw: 'var(--straw)',
  blue: 'var(--blue)',
  black: 'var(--chart-ink)',
};

/** The face of the cut, in its colour. */
function Face({ tint, bright }: { tint: string; bright: boolean }) {
  return (
    <g>
      <rect x={4} y={6} width={WIDE - 8} height={38} fill={tint} stroke="var(--soft)" />
      {bright && <path d="M14 40L34 10M44 40L64 10" stroke="var(--soft)" strokeWidth={1} />}
    </g>
  );
}

const START: Record<string, string> = {
  none: 'M4 18H80V48H4Z',
  scar: 'M4 18H80V48H4Z',
  flat: 'M4 18H32V11H52V18H80V48H4Z',
  gouge: 'M4 18H34Q42 36 50 18H80V48H4Z',
};
const END: Record<string, string> = {
  none: 'M4 18H80V48H4Z',
  tip: 'M4 18H56L72 6L70 18H80V48H4Z',
  gouge: 'M4 18H34Q42 36 50 18H80V48H4Z',
};

/** The kept edge from above, at the place where the cut closes. */
function FromAbove({ path, mark }: { path: string; mark: boolean }) {
  return (
    <g>
      <path d={path} {...PLATE} />
      {mark && <path d="M42 16V30" stroke="var(--plate-ink)" strokeWidth={2.5} />}
    </g>
  );
}

/** Two plates that hang together by a bridge at the bottom. */
function Tab() {
  return (
    <g>
      <path d="M4 6H36V44H4ZM48 6H80V44H48Z" {...PLATE} />
      <rect x={34} y={38} width={16} height={6} fill="var(--dross)" />
    </g>
  );
}

const CRATER: Record<string, number> = { none: 0, ring: 4, crater: 10, blown: 10 };

/** A pierce from above. */
function Pierce({ ring, splashed }: { ring: number; splashed: boolean }) {
  return (
    <g>
      <rect x={4} y={2} width={WIDE - 8} height={46} {...PLATE} />
      {ring > 0 && <circle cx={42} cy={25} r={6 + ring} fill="var(--dross)" />}
      <circle cx={42} cy={25} r={6} fill="var(--ground)" />
      {splashed &&
        [0, 60, 120, 180, 240, 300].map((a) => (
          <circle
            key={a}
            cx={42 + 21 * Math.cos((a * Math.PI) / 180)}
            cy={25 + 19 * Math.sin((a * Math.PI) / 180)}
            r={2.6}
            fill="var(--dross)"
          />
        ))}
    </g>
  );
}

const TIP: Record<string, string> = {
  sharp: 'M8 46L42 6L76 46Z',
  rounded: 'M8 46L33 17Q42 8 51 17L76 46Z',
  uncut: 'M8 46L38 10L36 2H50L46 10L76 46Z',
};
