import type { ReactNode } from 'react';
import type { Schema } from './client';
import { temper } from './temper';
import { showLength, showSpeed, type ShopUnits } from './units';

export interface Frame {
  width: number;
  height: number;
  mark: number; // radius of a cut's mark
}

export interface At {
  speed_mm_min: number;
  cut_height_mm: number;
}

export type Place = readonly [number, number];

interface Props {
  map: Schema['ChanceMap'];
  units: ShopUnits;
  frame: Frame;
  /** What it is for who cannot see it; the figures are in a table beside it. */
  label: string;
  onTap?: (at: At) => void;
  /** What lies on it, by where a setting is. */
  children: (place: (at: At) => Place) => ReactNode;
}

/** A chance over speed and height in the temper ramp, with whatever lies on it. */
export function ChanceField({ map, units, frame, label, onTap, children }: Props) {
  const { width, height } = frame;
  const cellWidth = width / map.speeds_mm_min.length;
  const cellHeight = height / map.heights_mm.length;
  const { place, read, low, high } = scales(map, frame);
  return (
    <svg
      viewBox={`0 0 ${width} ${height + 22}`}
      width="100%"
      role="img"
      style={{ cursor: onTap ? 'crosshair' : undefined, overflow: 'visible' }}
      aria-label={label}
      onClick={(e) => {
        const box = e.currentTarget.getBoundingClientRect();
        const scale = width / box.width;
        onTap?.(read((e.clientX - box.left) * scale, (e.clientY - box.top) * scale));
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
          {showSpeed(low.speed_mm_min, units).text}
        </text>
        <text x={width / 2} y={height + 17} textAnchor="middle">
          speed, {units.speed_unit}
        </text>
        <text x={width} y={height + 17} textAnchor="end">
          {showSpeed(high.speed_mm_min, units).text}
        </text>
      </g>
      {children(place)}
      <g
        fontSize={13}
        fontWeight={600}
        fill="var(--chart-ink)"
        stroke="var(--straw)"
        strokeWidth={3}
        paintOrder="stroke"
      >
        <text x={6} y={16}>
          {showLength(high.cut_height_mm, units).text} {units.length_unit} high
        </text>
        <text x={6} y={height - 7}>
          {showLength(low.cut_height_mm, units).text}
        </text>
      </g>
    </svg>
  );
}

/** A cut, by its number. */
export function CutMark({
  at: [x, y],
  mark,
  text,
  open,
}: {
  at: Place;
  mark: number;
  text: string | number;
  open?: boolean;
}) {
  return (
    <g>
      <circle
        cx={x}
        cy={y}
        r={mark}
        fill={open ? 'var(--chalk)' : 'var(--rail)'}
        stroke={open ? 'var(--rail)' : 'var(--chalk)'}
        strokeWidth={1.6}
      />
      <text
        x={x}
        y={y + 4.5}
        fontSize={12.5}
        fontWeight={640}
        textAnchor="middle"
        fill={open ? 'var(--rail)' : 'var(--chalk)'}
      >
        {text}
      </text>
    </g>
  );
}

/** Between settings and places: cells are centred on their settings, so the map ends half a cell outside them. */
function scales(map: Schema['ChanceMap'], { width, height }: Frame) {
  const { speeds_mm_min: speeds, heights_mm: heights } = map;
  const low = { speed_mm_min: speeds[0] ?? 1, cut_height_mm: heights[0] ?? 0 };
  const high = { speed_mm_min: speeds.at(-1) ?? 2, cut_height_mm: heights.at(-1) ?? 1 };
  const [padX, padY] = [width / speeds.length / 2, height / heights.length / 2];
  const inside = (v: number) => Math.min(Math.max(v, 0), 1);
  const ratio = Math.log(high.speed_mm_min / low.speed_mm_min) || 1;
  const rise = high.cut_height_mm - low.cut_height_mm || 1;
  return {
    low,
    high,
    place: (at: At): Place => [
      padX + inside(Math.log(at.speed_mm_min / low.speed_mm_min) / ratio) * (width - 2 * padX),
      height - padY - inside((at.cut_height_mm - low.cut_height_mm) / rise) * (height - 2 * padY),
    ],
    read: (x: number, y: number): At => ({
      speed_mm_min: low.speed_mm_min * Math.exp(inside((x - padX) / (width - 2 * padX)) * ratio),
      cut_height_mm: low.cut_height_mm + inside((height - padY - y) / (height - 2 * padY)) * rise,
    }),
  };
}
