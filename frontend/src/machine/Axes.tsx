import { useQuery } from '@tanstack/react-query';
import { answered, api } from '../kit/client';
import { Choices } from '../kit/Choices';
import { Notice, refusalText } from '../kit/Notice';
import styles from './machine.module.css';
import type { Change, Page, Settings } from './queries';

type Way = NonNullable<Settings['x_runs']>;

const WAYS = [
  { value: 'right', label: 'right' },
  { value: 'left', label: 'left' },
  { value: 'away', label: 'away from me' },
  { value: 'toward', label: 'toward me' },
] as const;

const STEP: Record<Way, readonly [number, number]> = {
  right: [1, 0],
  left: [-1, 0],
  away: [0, -1],
  toward: [0, 1],
};

/** Two jogs, and the table drawn as the operator stands before it. */
export function Axes({ page, change }: { page: Page; change: Change }) {
  const s = page.settings;
  const [x, y] = [s.x_runs ?? null, s.y_runs ?? null];
  const words = useQuery({
    queryKey: ['axes', x, y],
    queryFn: () =>
      answered(
        api.GET('/api/axes', { params: { query: { x_runs: x ?? 'right', y_runs: y ?? 'away' } } }),
      ),
    enabled: x !== null && y !== null,
  });
  const along = (way: Way | null) => way === 'right' || way === 'left';
  return (
    <section aria-labelledby="axes">
      <h2 id="axes">Axes, proved by two jogs</h2>
      <TableFromAbove x={x} y={y} home={s.home ?? null} />
      <Choices
        label="Jog X plus: the torch went"
        value={x}
        choices={WAYS}
        onChoose={(x_runs) =>
          // X and Y cannot lie along one line: the other axis is asked again.
          change(y !== null && along(x_runs) === along(y) ? { x_runs, y_runs: null } : { x_runs })
        }
      />
      <Choices
        label="Jog Y plus: the torch went"
        value={y}
        choices={x === null ? WAYS : WAYS.filter((w) => along(w.value) !== along(x))}
        onChoose={(y_runs) => change({ y_runs, axes_proved: x !== null })}
      />
      {words.isError && <Notice kind="refusal">{refusalText(words.error)}</Notice>}
      {x !== null && y !== null && (
        <p className={styles.said}>
          <strong>{s.axes_proved ? '■ Proved.' : '□ Not proved yet.'}</strong> {words.data?.sentence}{' '}
          {!s.axes_proved && (
            <button type="button" onClick={() => change({ axes_proved: true })}>
              I jogged both: it is so
            </button>
          )}
        </p>
      )}
      <Choices
        label="Home corner"
        value={s.home ?? null}
        choices={[
          { value: 'near_left', label: 'near left' },
          { value: 'near_right', label: 'near right' },
          { value: 'far_left', label: 'far left' },
          { value: 'far_right', label: 'far right' },
        ]}
        onChoose={(home) => change({ home })}
      />
    </section>
  );
}

function TableFromAbove({ x, y, home }: { x: Way | null; y: Way | null; home: string | null }) {
  const hx = home?.endsWith('right') ? 284 : 36;
  const hy = home?.startsWith('far') ? 22 : 128;
  return (
    <svg
      viewBox="0 0 320 176"
      className={styles.above}
      role="img"
      aria-label={`The table from above, operator below: X plus runs ${x ?? 'unknown'}, Y plus ${y ?? 'unknown'}, home ${home?.replace('_', ' ') ?? 'unknown'}`}
    >
      <rect x={20} y={8} width={280} height={136} fill="var(--plate)" />
      {[1, 2, 3, 4, 5, 6].map((i) => (
        <path key={i} d={`M${20 + i * 40} 8v136`} stroke="var(--plate-line)" strokeWidth={2} />
      ))}
      {home && <rect x={hx - 8} y={hy - 8} width={16} height={16} fill="var(--straw)" />}
      <Arrow way={x} name="X+" />
      <Arrow way={y} name="Y+" />
      <path d="M150 172a10 10 0 0 1 20 0" fill="var(--ink)" />
      <circle cx={160} cy={155} r={6} fill="var(--ink)" />
      <text x={180} y={168} fill="var(--soft)" fontSize={14}>
        you
      </text>
    </svg>
  );
}

function Arrow({ way, name }: { way: Way | null; name: string }) {
  if (way === null) return null;
  const [dx, dy] = STEP[way];
  const [x, y] = [160 + dx * 92, 76 + dy * 52];
  const [px, py] = [-dy, dx];
  const tip = `M${x - dx * 14 + px * 8} ${y - dy * 14 + py * 8}L${x} ${y}L${x - dx * 14 - px * 8} ${y - dy * 14 - py * 8}`;
  return (
    <g stroke="var(--chalk)" fill="none" strokeWidth={4}>
      <path d={`M160 76L${x} ${y}${tip}`} />
      <text
        x={x - dx * 22 + px * 18}
        y={y - dy * 22 + py * 18 + 6}
        fill="var(--chalk)"
        stroke="none"
        fontSize={18}
        fontWeight={640}
        textAnchor="middle"
      >
        {name}
      </text>
    </g>
  );
}
