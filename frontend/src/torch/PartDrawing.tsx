import type { PartName } from './queries';

/** Each part cut along its axis, at a common scale: stacked, they are the torch. A pit is drawn eight times as deep. */
export function PartDrawing({ part, pit }: { part: PartName; pit: number | null }) {
  return (
    <svg viewBox="0 0 132 84" width="132" height="84" aria-hidden="true" preserveAspectRatio="none">
      <line
        x1="66"
        x2="66"
        y1="0"
        y2="84"
        stroke="var(--soft)"
        strokeWidth="0.8"
        strokeDasharray="9 3 2 3"
      />
      {DRAWN[part](pit ?? 0)}
    </svg>
  );
}

const CUT = { fill: 'var(--plate)', stroke: 'var(--plate-line)', strokeWidth: 1 };
const LIGHT = { fill: 'var(--line)', stroke: 'var(--plate-line)', strokeWidth: 1 };

const DRAWN: Record<PartName, (pit: number) => React.ReactNode> = {
  electrode: (pit) => (
    <>
      <path d="M50 0H82V50Q82 66 74 78H58Q50 66 50 50Z" {...CUT} />
      <path d="M58 8H74V40H58Z" fill="var(--ground)" />
      <rect x="62" y="56" width="8" height="22" fill="var(--arc)" />
      {pit > 0 && (
        <path d={`M61 78.5Q66 ${78.5 - Math.min(30, 16 * pit)} 71 78.5Z`} fill="var(--chart-ink)" />
      )}
    </>
  ),
  swirl_ring: () => (
    <>
      <rect x="30" y="22" width="15" height="40" {...LIGHT} />
      <rect x="87" y="22" width="15" height="40" {...LIGHT} />
      <path d="M45 22H87M45 62H87" stroke="var(--plate-line)" strokeWidth="1" />
      {[31, 45].map((y) => (
        <path
          key={y}
          d={`M29 ${y}L46 ${y + 6}M86 ${y + 6}L103 ${y}`}
          stroke="var(--ink)"
          strokeWidth="3"
        />
      ))}
    </>
  ),
  nozzle: () => (
    <>
      <path d="M32 0H46V38Q48 58 62 64V84H52Q34 72 32 44Z" {...CUT} />
      <path d="M100 0H86V38Q84 58 70 64V84H80Q98 72 100 44Z" {...CUT} />
    </>
  ),
  retaining_cap: () => (
    <>
      <path d="M14 0H26V44L40 78H26L14 54Z" {...LIGHT} />
      <path d="M118 0H106V44L92 78H106L118 54Z" {...LIGHT} />
      {[6, 14, 22, 30].map((y) => (
        <path key={y} d={`M22 ${y}l4 4-4 4M110 ${y}l-4 4 4 4`} fill="none" stroke="var(--ink)" />
      ))}
    </>
  ),
  shield: () => (
    <>
      <path d="M8 0H18V34Q22 58 56 62V72H30Q8 60 8 30Z" {...CUT} />
      <path d="M124 0H114V34Q110 58 76 62V72H102Q124 60 124 30Z" {...CUT} />
    </>
  ),
  touch_off_clip: () => (
    <>
      <path
        d="M10 34Q10 16 28 16H104Q122 16 122 34"
        fill="none"
        stroke="var(--plate)"
        strokeWidth="6"
        strokeLinecap="round"
      />
      <path d="M122 34Q128 56 112 74" fill="none" stroke="var(--arc)" strokeWidth="3" />
      <circle cx="122" cy="34" r="4" fill="var(--ink)" />
    </>
  ),
};
