import { temper } from '../kit/temper';
import { showLength, showSpeed, type ShopUnits } from '../kit/units';
import { dialled, kept, type Bench, type Setting } from './model';

interface Frame {
  width: number;
  height: number;
  mark: number; // radius of a cut's mark
}

export const SMALL: Frame = { width: 264, height: 138, mark: 9.5 };
export const WIDE: Frame = { width: 560, height: 300, mark: 12 };

interface Props {
  bench: Bench;
  units: ShopUnits;
  frame: Frame;
  chosen?: Setting;
  onChoose: (at: Setting) => void;
}

/** The window: chance over speed and height in the temper ramp, cuts as marks. Tapped, it names a setting. */
export function WindowMap({ bench, units, frame, chosen, onChoose }: Props) {
  const map = bench.chance_map;
  const { width, height, mark } = frame;
  const cellWidth = width / map.speeds_mm_min.length;
  const cellHeight = height / map.heights_mm.length;
  const { place, read, low, high } = scales(bench, frame);
  const best = Math.max(...map.chance.flat());
  const next = bench.now.setting;
  return (
    <svg
      viewBox={`0 0 ${width} ${height + 22}`}
      width="100%"
      role="img"
      style={{ cursor: 'crosshair', overflow: 'visible' }}
      aria-label={`Chance to pass over the trial's limits: ${Math.round(best * 100)} in 100 at best. Read it as a table for the figures.`}
      onClick={(e) => {
        const box = e.currentTarget.getBoundingClientRect();
        const scale = width / box.width;
        const at = read((e.clientX - box.left) * scale, (e.clientY - box.top) * scale);
        onChoose(dialled(at, units, bench.trial.limits));
      }}
    >
      {map.chance.map((row, j) =>
        row.map((p, i) => (
          <rect
            key={`${i} ${j}`}
            x={i * cellWidth}
            y={height - (j + 1) * cellHeight}
            width={cellWidth + 0.5}
            height={cellHeight + 0.5}
            fill={temper(p)}
          />
        )),
      )}
      <g fontSize={13} fill="var(--ink)">
        <text x={0} y={height + 17}>
          {showSpeed(low.speed, units).text}
        </text>
        <text x={width / 2} y={height + 17} textAnchor="middle">
          speed, {units.speed_unit}
        </text>
        <text x={width} y={height + 17} textAnchor="end">
          {showSpeed(high.speed, units).text}
        </text>
      </g>
      {kept(bench).map((c) => {
        const [x, y] = place(c.speed_mm_min, c.cut_height_mm);
        return (
          <g key={c.id}>
            <circle cx={x} cy={y} r={mark} fill="var(--rail)" stroke="var(--chalk)" strokeWidth={1.6} />
            <text
              x={x}
              y={y + 4.5}
              fontSize={12.5}
              fontWeight={640}
              textAnchor="middle"
              fill="var(--chalk)"
            >
              {c.number}
            </text>
          </g>
        );
      })}
      {bench.advice.recommended && !bench.trial.recipe_id && (
        <NextMark at={place(next.speed_mm_min, next.cut_height_mm)} />
      )}
      {chosen && <ChosenMark at={place(chosen.speed_mm_min, chosen.cut_height_mm)} frame={frame} />}
      <g
        fontSize={13}
        fontWeight={600}
        fill="var(--chart-ink)"
        stroke="var(--straw)"
        strokeWidth={3}
        paintOrder="stroke"
      >
        <text x={6} y={16}>
          {showLength(high.height, units).text} {units.length_unit} high
        </text>
        <text x={6} y={height - 7}>
          {showLength(low.height, units).text}
        </text>
      </g>
    </svg>
  );
}

function NextMark({ at: [x, y] }: { at: readonly [number, number] }) {
  return (
    <g fill="none">
      <rect x={x - 13} y={y - 13} width={26} height={26} stroke="var(--rail)" strokeWidth={5} />
      <rect x={x - 13} y={y - 13} width={26} height={26} stroke="var(--chalk)" strokeWidth={2.4} />
    </g>
  );
}

/** What is asked about: lines through it to both axes. */
function ChosenMark({ at: [x, y], frame }: { at: readonly [number, number]; frame: Frame }) {
  const d = `M0 ${y}H${frame.width}M${x} 0V${frame.height}`;
  return (
    <g fill="none">
      <path d={d} stroke="var(--rail)" strokeWidth={4} opacity={0.55} />
      <path d={d} stroke="var(--chalk)" strokeWidth={1.6} />
    </g>
  );
}

/** Between settings and places: cells are centred on their settings, so the map ends half a cell outside them. */
function scales(bench: Bench, { width, height }: Frame) {
  const { speeds_mm_min: speeds, heights_mm: heights } = bench.chance_map;
  const low = { speed: speeds[0] ?? 1, height: heights[0] ?? 0 };
  const high = { speed: speeds.at(-1) ?? 2, height: heights.at(-1) ?? 1 };
  const [padX, padY] = [width / speeds.length / 2, height / heights.length / 2];
  const inside = (v: number) => Math.min(Math.max(v, 0), 1);
  const ratio = Math.log(high.speed / low.speed) || 1;
  const rise = high.height - low.height || 1;
  return {
    low,
    high,
    place: (speed: number, at: number): readonly [number, number] => [
      padX + inside(Math.log(speed / low.speed) / ratio) * (width - 2 * padX),
      height - padY - inside((at - low.height) / rise) * (height - 2 * padY),
    ],
    read: (x: number, y: number): Setting => ({
      speed_mm_min: low.speed * Math.exp(inside((x - padX) / (width - 2 * padX)) * ratio),
      cut_height_mm: low.height + inside((height - padY - y) / (height - 2 * padY)) * rise,
    }),
  };
}
