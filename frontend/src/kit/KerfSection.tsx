import { DROSS_EFFORT } from './words.gen';
import { showDegrees } from './units';
import {
  LARGE,
  THUMB,
  angleTimes,
  beads,
  edgeAt,
  platePath,
  reach,
  welded,
  type DrossKind,
  type Edge,
  type SectionFrame,
} from './section';

export interface KerfSectionProps {
  thicknessMm: number;
  kerfMm: number;
  leftDeg: number | null;
  rightDeg: number | null;
  goodSide: 'left' | 'right';
  /** null: nobody looked; empty: looked, and none. */
  dross: readonly { kind: DrossKind; grade: number }[] | null;
  expected?: { leftDeg: number; rightDeg: number } | undefined;
  toleranceDeg?: number | undefined;
  bothSides?: boolean;
  standoff?: { mm: number; text: string } | undefined;
  /** The edge of the kept side farthest from square, where the angle drawn is a mean of several. */
  worstDeg?: number | null | undefined;
  through?: 'full' | 'partial' | 'none' | null;
  size?: 'large' | 'thumb';
}

const SIDES = ['left', 'right'] as const;

/** What the drawing shows, as a sentence, for those who cannot see it. */
function described(p: KerfSectionProps): string {
  const dross =
    p.dross === null
      ? 'underside not looked at'
      : p.dross.length === 0
        ? 'no dross'
        : p.dross
            .map((d) => `${d.kind.replace('_', '-')} dross, ${DROSS_EFFORT[d.grade] ?? ''}`)
            .join(', ');
  return `Cut seen end-on: left edge ${showDegrees(p.leftDeg)}, right edge ${showDegrees(p.rightDeg)}, ${dross}.`;
}

export function KerfSection(props: KerfSectionProps) {
  const size = props.size ?? 'large';
  const frame = size === 'large' ? LARGE : THUMB;
  const edges = SIDES.map((side) => {
    const read = side === 'left' ? props.leftDeg : props.rightDeg;
    return { side, read, edge: edgeAt(side, read ?? 0, props, frame) };
  });
  return (
    <svg
      viewBox={`0 0 ${frame.width} ${frame.height}`}
      width="100%"
      role="img"
      aria-label={described(props)}
      style={{ display: 'block', maxWidth: size === 'large' ? 560 : 148 }}
    >
      {size === 'large' && (
        <Torch
          edges={edges.map((e) => e.edge)}
          standoff={props.standoff}
          through={props.through ?? null}
        />
      )}
      {edges.map(({ side, read, edge }) => (
        <Plate key={side} edge={edge} read={read !== null} frame={frame} />
      ))}
      {props.through && props.through !== 'full' && (
        <Uncut edges={edges.map((e) => e.edge)} none={props.through === 'none'} />
      )}
      {edges.map(({ side, edge }) => (
        <Dross key={side} edge={edge} dross={props.dross ?? []} unit={size === 'large' ? 1 : 0.42} />
      ))}
      {size === 'large' &&
        edges.map(({ side, read, edge }) => (
          <Labels key={side} side={side} read={read} edge={edge} props={props} />
        ))}
    </svg>
  );
}

function Plate({ edge, read, frame }: { edge: Edge; read: boolean; frame: SectionFrame }) {
  const outer = edge.into === -1 ? frame.margin : frame.width - frame.margin;
  const step = frame.plateHeight / 7;
  const lines = Array.from({ length: 6 }, (_, i) => edge.topY + (i + 1) * step);
  return (
    <g>
      <path
        d={platePath(edge, frame)}
        fill={read ? 'var(--plate)' : 'none'}
        stroke={read ? 'none' : 'var(--soft)'}
        strokeDasharray="5 4"
        strokeWidth={1.5}
      />
      {read &&
        lines.map((y) => {
          const share = (y - edge.topY) / frame.plateHeight;
          const x = edge.topX + (edge.bottomX - edge.topX) * share;
          return (
            <path
              key={y}
              d={`M${outer} ${y}H${x + edge.into * 5}`}
              stroke="var(--plate-line)"
              strokeWidth={0.8}
            />
          );
        })}
    </g>
  );
}

function Torch({
  edges,
  standoff,
  through,
}: {
  edges: Edge[];
  standoff: KerfSectionProps['standoff'];
  through: string | null;
}) {
  const [left, right] = edges;
  if (!left || !right) return null;
  const cx = (left.topX + right.topX) / 2;
  const tip = left.topY - 40;
  const k = (right.topX - left.topX) / 2;
  const end =
    through === null || through === 'full'
      ? left.bottomY + 26
      : left.topY + (left.bottomY - left.topY) * 0.7;
  return (
    <g>
      <path
        d={`M${cx - 5} ${tip}L${cx - k * 0.62} ${left.topY}L${cx - k * 0.3} ${left.bottomY}L${cx - 3} ${end}H${cx + 3}L${cx + k * 0.3} ${left.bottomY}L${cx + k * 0.62} ${left.topY}L${cx + 5} ${tip}Z`}
        fill="var(--arc)"
        opacity={0.85}
      />
      <g fill="var(--sheet)" stroke="var(--ink)" strokeWidth={2}>
        <path d={`M${cx - 54} 4V34L${cx - 24} ${tip}H${cx - 8}V30H${cx - 20}V4`} />
        <path d={`M${cx + 54} 4V34L${cx + 24} ${tip}H${cx + 8}V30H${cx + 20}V4`} />
      </g>
      {standoff && (
        <g stroke="var(--ink)" fill="none" strokeWidth={1}>
          <path
            d={`M${cx + 34} ${tip}H${cx + 84}M${right.topX + 8} ${left.topY}H${cx + 84}M${cx + 74} ${tip}V${left.topY}`}
          />
          <text
            x={cx + 92}
            y={(tip + left.topY) / 2 + 6}
            fontSize={16}
            fontWeight={600}
            fill="var(--ink)"
            stroke="none"
          >
            {standoff.text}
          </text>
        </g>
      )}
    </g>
  );
}

function Uncut({ edges, none }: { edges: Edge[]; none: boolean }) {
  const [left, right] = edges;
  if (!left || !right) return null;
  const from = left.bottomY - (left.bottomY - left.topY) * (none ? 0.55 : 0.18);
  return (
    <path
      d={`M${left.topX} ${from}H${right.topX}L${right.bottomX} ${right.bottomY}H${left.bottomX}Z`}
      fill="var(--plate)"
      stroke="var(--bad)"
      strokeWidth={2}
      strokeDasharray="4 3"
    />
  );
}

function Dross({
  edge,
  dross,
  unit,
}: {
  edge: Edge;
  dross: readonly { kind: DrossKind; grade: number }[];
  unit: number;
}) {
  return (
    <g fill="var(--dross)">
      {dross.map(({ kind, grade }) => {
        if (grade === 0) return null;
        if (kind === 'low_speed')
          return beads(edge, grade, unit).map((b) => <ellipse key={b.cx} {...b} />);
        if (kind === 'high_speed') return <path key={kind} d={welded(edge, grade, unit)} />;
        return [0, 1, 2].map((i) => (
          <circle
            key={i}
            cx={edge.topX + edge.into * (9 + i * 13) * unit}
            cy={edge.topY - 2.5 * unit}
            r={(4 - i) * unit}
          />
        ));
      })}
    </g>
  );
}

function Labels({
  side,
  read,
  edge,
  props,
}: {
  side: 'left' | 'right';
  read: number | null;
  edge: Edge;
  props: KerfSectionProps;
}) {
  const at = edge.into === -1 ? LARGE.margin + 14 : LARGE.width - LARGE.margin - 14;
  const anchor = edge.into === -1 ? 'start' : 'end';
  const kept = side === props.goodSide;
  const middle = edge.topY + LARGE.plateHeight / 2;
  const ink = read === null ? 'var(--ink)' : 'var(--plate-ink)';
  const judged = kept || props.bothSides;
  return (
    <g textAnchor={anchor}>
      <text x={at} y={middle + 2} fontSize={read === null ? 18 : 29} fontWeight={640} fill={ink}>
        {showDegrees(read)}
      </text>
      <text x={at} y={middle + 24} fontSize={14} fontWeight={520} fill={ink}>
        {side}, {kept ? 'kept side' : 'scrap side'}
      </text>
      {judged && props.toleranceDeg !== undefined && (
        <Allowed
          times={angleTimes(props, LARGE)}
          edge={edge}
          deg={props.toleranceDeg}
          read={read}
          worst={kept ? (props.worstDeg ?? read) : read}
          ofAll={kept && typeof props.worstDeg === 'number'}
        />
      )}
      {props.expected && (
        <Expected
          times={angleTimes(props, LARGE)}
          edge={edge}
          deg={side === 'left' ? props.expected.leftDeg : props.expected.rightDeg}
        />
      )}
    </g>
  );
}

/** The allowed range of the bottom corner, as a ruler under the plate with the corner marked on it. */
function Allowed({
  edge,
  deg,
  read,
  worst,
  ofAll,
  times,
}: {
  edge: Edge;
  deg: number;
  read: number | null;
  /** Of the edges that the mean is of: a mean inside is no edge inside. */
  worst: number | null;
  /** The worst of all kept edges is known, and not only their mean. */
  ofAll: boolean;
  times: number;
}) {
  const y = edge.bottomY + 46;
  const span = reach(deg, times, LARGE);
  const inside = worst !== null && Math.abs(worst) <= deg;
  const low = edge.topX - span;
  const high = edge.topX + span;
  return (
    <g>
      <path
        d={`M${low} ${edge.topY}M${low} ${y - 8}V${y + 8}M${high} ${y - 8}V${y + 8}M${low} ${y}H${high}`}
        stroke="var(--limit)"
        strokeWidth={2.5}
        fill="none"
      />
      <path
        d={`M${edge.topX} ${edge.topY}L${low} ${y - 8}M${edge.topX} ${edge.topY}L${high} ${y - 8}`}
        stroke="var(--limit)"
        strokeWidth={1.3}
        strokeDasharray="5 4"
        fill="none"
      />
      {read !== null && (
        <path d={`M${edge.bottomX} ${y - 3}l-6 -11h12z`} fill={inside ? 'var(--good)' : 'var(--bad)'} />
      )}
      <text
        x={edge.topX + edge.into * (span + 8)}
        y={y + 5}
        textAnchor={edge.into === -1 ? 'end' : 'start'}
        fontSize={14}
        fontWeight={600}
        fill="var(--ink)"
      >
        {read === null
          ? `\u00b1${deg.toFixed(1)}\u00b0`
          : inside
            ? ofAll
              ? 'all within'
              : 'within'
            : worst === read
              ? 'past it'
              : `${showDegrees(worst)} past it`}
      </text>
    </g>
  );
}

function Expected({ edge, deg, times }: { edge: Edge; deg: number; times: number }) {
  return (
    <path
      d={`M${edge.topX} ${edge.topY}L${edge.topX - edge.into * reach(deg, times, LARGE)} ${edge.bottomY}`}
      stroke="var(--expect)"
      strokeWidth={3}
      fill="none"
    />
  );
}
