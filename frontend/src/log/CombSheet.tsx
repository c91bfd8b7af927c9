import { NumberField } from '../kit/NumberField';
import { showDegrees, showLength, showSpeed, type ShopUnits } from '../kit/units';
import { bevelOf, type Item, type Log, type Slot } from './log';
import styles from './log.module.css';

interface Props {
  log: Log;
  units: ShopUnits;
  change: (to: (now: Log) => Log) => void;
}

/**
 * The slots of a ladder. Each has an edge on either side, and they lie on two strips: which flank of which strip
 * is said, so that nobody works it out in the hand.
 */
export function CombSheet({ log, units, change }: Props) {
  const { items, slots } = log.sheet;
  return (
    <div className={styles.comb}>
      <FromAbove items={items} log={log} />
      <ol className={styles.ladder}>
        {items.map((i) => (
          <SlotRow
            key={i.number}
            item={i}
            edges={slots.filter((s) => s.item === i.number)}
            log={log}
            units={units}
            change={change}
          />
        ))}
      </ol>
    </div>
  );
}

function SlotRow({ item, edges, log, units, change }: Props & { item: Item; edges: readonly Slot[] }) {
  const seen = log.strips[item.number] ?? {};
  const say = (to: typeof seen) =>
    change((now) => ({
      ...now,
      strips: { ...now.strips, [item.number]: { ...now.strips[item.number], ...to } },
    }));
  const setting =
    log.sheet.kind === 'height_ladder'
      ? `${showLength(item.cut_height_mm ?? 0, units).text} ${units.length_unit}`
      : `${showSpeed(item.speed_mm_min ?? 0, units).text} ${units.speed_unit}`;
  return (
    <li aria-label={`Slot ${item.number}`}>
      <strong>
        Slot {item.number}
        <small>{setting}</small>
      </strong>
      <NumberField
        label="Volts seen"
        after="V"
        value={seen.volts ?? null}
        onType={(volts) => say({ volts })}
      />
      <div className={styles.row} role="group" aria-label={`Slot ${item.number}`}>
        {log.sheet.strip_answers.map((a) => (
          <button
            key={a.value}
            type="button"
            aria-pressed={seen.answer === a.value}
            onClick={() => say({ answer: a.value })}
          >
            {a.label}
            <small>{a.says}</small>
          </button>
        ))}
      </div>
      <div className={styles.flanks}>
        {edges.map((s) => (
          <NumberField
            key={s.key}
            label={`Strip ${strip(s)}, ${s.side === 'right' ? 'left' : 'right'} edge`}
            after="°"
            value={bevelOf(log.edges[s.key])}
            onType={(bevel) => change((now) => typedEdge(now, s.key, bevel))}
          />
        ))}
      </div>
    </li>
  );
}

/** The strip that carries an edge of a slot: as the sheet's own words say it. */
const strip = (slot: Slot): string => /^Strip (\d+)/.exec(slot.label)?.[1] ?? '';

function typedEdge(log: Log, key: string, bevel: number | null): Log {
  const others = Object.fromEntries(Object.entries(log.edges).filter(([k]) => k !== key));
  if (bevel === null) return { ...log, edges: others };
  const entry = { digits: '', negative: bevel < 0, typed: String(Math.abs(bevel)) };
  return { ...log, edges: { ...others, [key]: entry } };
}

/** The comb as it lay on the table: strips between slots, every flank with what was read of it. */
function FromAbove({ items, log }: { items: readonly Item[]; log: Log }) {
  const n = items.length;
  const pitch = 92;
  const wide = pitch * (n + 1);
  const at = (item: number, side: string) =>
    log.sheet.slots.find((s) => s.item === item && s.side === side);
  return (
    <svg
      viewBox={`0 0 ${wide} 132`}
      className={styles.combPicture}
      role="img"
      aria-label="The comb from above"
    >
      <rect x={0} y={96} width={wide} height={30} fill="var(--plate)" />
      {Array.from({ length: n + 1 }, (_, k) => (
        <g key={k}>
          <rect
            x={k * pitch + (k ? 4 : 0)}
            y={8}
            width={pitch - (k && k < n ? 8 : 4)}
            height={90}
            fill="var(--plate)"
          />
          <text
            x={(k + 0.5) * pitch}
            y={116}
            textAnchor="middle"
            fontSize={15}
            fontWeight={640}
            fill="var(--plate-ink)"
          >
            strip {k + 1}
          </text>
          {k > 0 && <Flank slot={at(k, 'right')} log={log} x={k * pitch + 9} anchor="start" />}
          {k < n && <Flank slot={at(k + 1, 'left')} log={log} x={(k + 1) * pitch - 9} anchor="end" />}
        </g>
      ))}
      {items.map((i) => (
        <path
          key={i.number}
          d={`M${i.number * pitch} 94V14m-5 8l5 -8 5 8`}
          fill="none"
          stroke="var(--limit)"
          strokeWidth={2}
        />
      ))}
    </svg>
  );
}

function Flank({
  slot,
  log,
  x,
  anchor,
}: {
  slot: Slot | undefined;
  log: Log;
  x: number;
  anchor: 'start' | 'end';
}) {
  const bevel = slot ? bevelOf(log.edges[slot.key]) : null;
  return (
    <text
      x={x}
      y={anchor === 'start' ? 44 : 74}
      textAnchor={anchor}
      fontSize={14}
      fill="var(--plate-ink)"
    >
      {bevel === null ? '–' : showDegrees(bevel)}
    </text>
  );
}
