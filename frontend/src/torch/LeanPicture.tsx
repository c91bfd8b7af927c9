import { wayInWords } from '../kit/ways';
import type { Seat } from './queries';
import styles from './alignment.module.css';

const R = 150; // of the plate's disc
const EDGE = R + 34;

/** The jet from above: where it drifts going down, how far that is known, what is asked, and what is left. */
export function LeanPicture({ seat, targetDeg }: { seat: Seat; targetDeg: number }) {
  const found = seat.alignment;
  const known = seat.known_to_deg ?? 0;
  const most = Math.max(
    2.4 * targetDeg,
    found ? found.lean_deg + known : 0,
    seat.moved?.lean_deg ?? 0,
    1,
  );
  const scale = R / most;
  const at = (deg: number, toward: number): readonly [number, number] => {
    const a = (toward * Math.PI) / 180;
    return [deg * Math.cos(a) * scale, -deg * Math.sin(a) * scale];
  };
  const [x, y] = found ? at(found.lean_deg, found.toward_deg) : [0, 0];
  const [wasX, wasY] = seat.moved ? at(seat.moved.lean_deg, seat.moved.toward_deg) : [0, 0];
  const turns = (found?.corrections.length ?? 0) > 0;
  return (
    <figure className={styles.picture}>
      <svg
        viewBox={`${-EDGE - 50} ${-EDGE} ${2 * EDGE + 100} ${2 * EDGE}`}
        width="100%"
        role="img"
        aria-label={
          found
            ? `Seen from above: the jet drifts ${found.lean_deg.toFixed(1)} degrees ${wayInWords(found.toward_deg)}, known to ${known.toFixed(1)}`
            : 'Seen from above: nothing read yet'
        }
      >
        <circle r={R} fill="var(--sheet)" stroke="var(--line)" strokeWidth={1.5} />
        {[45, 135, 225, 315].map((a) => {
          const [tx, ty] = at(most, a);
          return <path key={a} d={`M0 0L${tx} ${ty}`} stroke="var(--line)" />;
        })}
        <path d={`M${-R} 0H${R}M0 ${-R}V${R}`} stroke="var(--line)" strokeWidth={1.5} />
        <circle
          r={targetDeg * scale}
          fill="none"
          stroke="var(--limit)"
          strokeWidth={2}
          strokeDasharray="6 5"
        />
        {seat.moved && (
          <g opacity={0.6}>
            <path
              d={`M0 0L${wasX} ${wasY}`}
              stroke="var(--soft)"
              strokeWidth={4}
              strokeDasharray="3 5"
            />
            <circle cx={wasX} cy={wasY} r={6} fill="var(--soft)" />
          </g>
        )}
        {found && (
          <>
            <circle cx={x} cy={y} r={known * scale} fill="var(--expect)" opacity={0.2} />
            <path d={`M0 0L${x} ${y}`} stroke="var(--ink)" strokeWidth={5} />
            <circle cx={x} cy={y} r={8} fill="var(--ink)" />
            {turns && (
              <circle
                r={Math.max(found.left_over_deg * scale, 7)}
                fill="none"
                stroke="var(--expect)"
                strokeWidth={3}
              />
            )}
          </>
        )}
        <g fontSize={14} fill="var(--soft)" textAnchor="middle">
          <text y={-R - 12}>away from you, Y</text>
          <text y={R + 24}>you stand here</text>
          <text x={R + 8} y={5} textAnchor="start">
            right, X
          </text>
          <text x={-R - 8} y={5} textAnchor="end">
            left
          </text>
          <text x={6} y={-targetDeg * scale - 5} textAnchor="start" fill="var(--limit)">
            {targetDeg}° asked
          </text>
        </g>
      </svg>
      <figcaption>
        Bar: the way the jet drifts going down. Shaded: 95 in 100 that it lies there.
        {seat.moved && ' Dashed: as it was read before.'}
        {turns && ' Ring: what the next slug should show after the turns.'}
      </figcaption>
    </figure>
  );
}
